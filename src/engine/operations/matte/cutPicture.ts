import type { Rectangle } from "../../../core/geometry/rectangle";
import type { Colours } from "../../../core/matte/trimap";
import type { EngineContext } from "../../EngineContext";
import { each } from "../frames/frameSamples";
import { readLayer, type ShownFrame } from "../merge/readLayer";
import { pictureIdOf } from "../../../document/sourceIds";
import type { FrameRecord } from "../../../document/records/types";
import { colorOf, openFrame } from "../frames/sources";
import type { CutPicture } from "./CutProposals";

const ROWS = 256;

/** A frame by itself, as it was shot and developed. */
export async function framePicture(ctx: EngineContext, frame: FrameRecord): Promise<CutPicture> {
  return cutPicture(ctx, { file: await openFrame(ctx, frame), color: await colorOf(ctx, frame.sourceId) }, [pictureIdOf(frame), frame.development]);
}

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
