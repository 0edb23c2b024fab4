import type { MatteFigures } from "../../../core/matte/judgeMatte";
import type { FrameRecord } from "../../../document/records/types";
import { readPicture } from "../../../formats/readPicture";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { alphaFile, frontFile } from "./exportMatte";
import { makeMatte, type CutMark, type Cutting } from "./makeMatte";

export const matteRequests = {
  /** Codes of a grey picture, 0..255, as a trimap has them. */
  readCodes: async (ctx: EngineContext, { bytes }: { bytes: Uint8Array }): Promise<{ width: number; height: number; codes: Uint8Array }> => {
    const { width, height, bits, data } = (await readPicture(bytes, ctx.codecs)).raster;
    const scale = bits === 8 ? 1 : bits === 16 ? 255 / 65535 : 255;
    const codes = new Uint8Array(width * height);
    for (let i = 0; i < codes.length; i++) codes[i] = Math.round(Math.min(255, Math.max(0, scale * data[3 * i])));
    return { width, height, codes };
  },
  /** Cuts something out of a frame as it was shot: its alpha and its freed colours as files. */
  cutOut: async (
    ctx: EngineContext,
    p: { frame: FrameRecord; cutting: Cutting; marks: CutMark[]; withFront: boolean },
    task: Task,
  ): Promise<{ alpha: Uint8Array[]; front: Uint8Array[] | null; figures: MatteFigures }> => {
    const matte = await makeMatte(ctx, p.frame, p.cutting, p.marks, portion(task, 0, 0.9));
    const alpha = await alphaFile(p.frame, matte, portion(task, 0.9, 0.95));
    return { alpha, front: p.withFront ? await frontFile(p.frame, matte, portion(task, 0.95, 1)) : null, figures: matte.figures };
  },
};
