import type { Lens } from "../../../core/geometry/lens";
import type { Matrix3 } from "../../../core/geometry/matrix3";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { MatteFigures } from "../../../core/matte/judgeMatte";
import type { FrameRecord, Records } from "../../../document/records/types";
import { layerOf } from "../../../document/selectors";
import { pictureIdOf } from "../../../document/sourceIds";
import { readPicture } from "../../../formats/readPicture";
import type { CutMark } from "../../../kinds/contents/frame/record";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { openPlaced } from "../frames/placeFrame";
import { colorOf, openFrame } from "../frames/sources";
import { prepareJob } from "../layers/compose";
import { blackOf } from "../layers/frameLight";
import { cutPicture } from "./cutPicture";
import { Cutter } from "./Cutter";
import type { Cutting } from "./CutProposals";
import { exportCutout, type CutoutFile, type CutoutFormat } from "./exportCutout";
import { alphaFile, frontFile } from "./exportMatte";
import { judgedLevel } from "./judgedLevel";

/** By what the command line is told what is wanted in a frame as it was shot. */
export type CutRequest =
  | { by: "box"; box: Rectangle }
  | { by: "trimap"; codes: Uint8Array }
  | { by: "plate"; frame: FrameRecord; matrix: Matrix3; lens: Lens | null }
  | { by: "backdrop" };

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
    p: { frame: FrameRecord; cutting: CutRequest; marks: CutMark[]; withFront: boolean },
    task: Task,
  ): Promise<{ alpha: Uint8Array[]; front: Uint8Array[] | null; figures: MatteFigures }> => {
    const { frame } = p;
    const picture = cutPicture(ctx, { file: await openFrame(ctx, frame), color: await colorOf(ctx, frame.sourceId) }, pictureIdOf(frame));
    const cutter = new Cutter(ctx.cache, picture, await cuttingOf(ctx, frame, p.cutting, task), p.marks);
    const matte = await cutter.prepare(0, portion(task, 0, 0.85));
    const figures = await cutter.figures(0, portion(task, 0.85, 0.9));
    const alpha = await alphaFile(frame, matte, portion(task, 0.9, 0.95));
    return { alpha, front: p.withFront ? await frontFile(frame, picture, matte, portion(task, 0.95, 1)) : null, figures };
  },
  /** The black level of a frame whose light a layer adds. */
  measureBlack: async (ctx: EngineContext, p: { records: Records; frameId: string }, task: Task): Promise<number[] | null> => {
    const { inputs, pictures } = await prepareJob(ctx, p.records, task);
    const shown = inputs.frames.find((f) => f.frame.id === p.frameId) ?? pictures.get(p.frameId);
    return shown ? blackOf(ctx, shown) : null;
  },
  /** Finds what a layer cuts out, with progress. @throws Refusal where nothing can be told apart */
  readyCut: async (ctx: EngineContext, p: { records: Records; layerId: string }, task: Task): Promise<void> => {
    const cutter = (await prepareJob(ctx, p.records, portion(task, 0, 0.8))).cutouts.get(p.layerId);
    if (cutter) await cutter.prepare(cutter.base, portion(task, 0.8, 1));
  },
  /** Something that a layer cuts out as a file with alpha; null where the layer cuts nothing. @throws Refusal where nothing can be told apart */
  cutoutFile: async (ctx: EngineContext, p: { records: Records; layerId: string; format: CutoutFormat }, task: Task): Promise<CutoutFile | null> => {
    const [cutter, layer] = [(await prepareJob(ctx, p.records, portion(task, 0, 0.3))).cutouts.get(p.layerId), layerOf(p.records, p.layerId)];
    return cutter && layer ? exportCutout(ctx, cutter, layer.name, p.format, portion(task, 0.3, 1)) : null;
  },
  /** What something that a layer cuts out is like; null where the layer cuts nothing. @throws Refusal where nothing can be told apart */
  cutFigures: async (ctx: EngineContext, p: { records: Records; layerId: string }, task: Task): Promise<MatteFigures | null> => {
    const cutter = (await prepareJob(ctx, p.records, task)).cutouts.get(p.layerId);
    return cutter ? cutter.figures(judgedLevel(cutter), task) : null;
  },
};

async function cuttingOf(ctx: EngineContext, { width, height }: FrameRecord, cutting: CutRequest, task: Task): Promise<Cutting> {
  if (cutting.by !== "plate") return cutting;
  const { frame, matrix, lens } = cutting;
  const file = await openPlaced(ctx, { pictureId: pictureIdOf(frame), matrix, lens, width, height }, task);
  return { by: "plate", plate: cutPicture(ctx, { file, color: await colorOf(ctx, frame.sourceId) }, [pictureIdOf(frame), matrix, lens]) };
}
