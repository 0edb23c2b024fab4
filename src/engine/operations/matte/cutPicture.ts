import type { Rectangle } from "../../../core/geometry/rectangle";
import type { Colours } from "../../../core/matte/trimap";
import type { EngineContext } from "../../EngineContext";
import { each } from "../frames/frameSamples";
import { readLayer, type ShownFrame } from "../merge/readLayer";
import type { CutPicture } from "./CutProposals";

const ROWS = 256;

/** What a layer can show, as it is cut. @param key what identifies its samples */
export function cutPicture(ctx: EngineContext, shown: ShownFrame, key: unknown): CutPicture {
  const { width, height, levels } = shown.file.spec;
  const read = (level: number, rect: Rectangle): Colours => {
    const planes = [0, 1, 2].map(() => new Float32Array(rect.width * rect.height)) as unknown as Colours;
    for (let y = 0; y < rect.height; y += ROWS) {
      const rows = Math.min(ROWS, rect.height - y);
      ctx.kernels.withScope((scope) => {
        const strip = readLayer(scope, shown, level, { ...rect, y: rect.y + y, height: rows }, 0);
        each(strip).forEach((at, c) => planes[c].set(ctx.kernels.f32(at, rect.width * rows), y * rect.width));
      });
    }
    return planes;
  };
  return { key, width, height, levels, read };
}
