import { intersect, levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import type { KnownFocal } from "../../../core/seat/fitStance";
import { PLATE_SIDE, type FoundPlate } from "../../../core/seat/findPlate";
import { levelOf } from "../../../core/register/greyPyramid";
import { GroundCamera } from "../../../core/seat/groundCamera";
import { ballLight } from "../../../core/seat/ballLight";
import type { LightDirection } from "../../../core/seat/lightFromShadows";
import type { Stance } from "../../../core/seat/upright";
import { pictureIdOf } from "../../../document/sourceIds";
import type { FrameRecord, Records } from "../../../document/records/types";
import type { SeatRecord } from "../../../document/records/plateTypes";
import { layerOf } from "../../../document/selectors";
import { shownSize } from "../../../document/outputGeometry";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { heldGrey } from "../frames/greyCache";
import { colorOf, openFrame } from "../frames/sources";
import { prepareJob } from "../layers/compose";
import { cutPicture } from "../matte/cutPicture";
import { groundAround } from "./groundAround";
import { LUMINANCE } from "../../../core/color/primaries";
import { litGround, type GroundLight, type LitGround } from "../../../core/seat/litGround";
import { outlineLightOf } from "./outlineLightOf";
import type { OutlineLight } from "../../../core/seat/outlineLight";
import { barePlate } from "./barePlate";
import { measureHaze, type MeasuredAir } from "./measureHaze";
import { measureMarks } from "./measureMarks";
import { standsAt } from "./standsAt";
import { waterPlace, waterUnder, type WaterFigures } from "./waterUnder";

/** Radius of a ball that is looked at, samples. */
const BALL_RADIUS = 60;
/** Light taken for none, log2 of which is taken. */
const DARKEST = 1e-5;

export const seatRequests = {
  /** Horizon and lens of a plate by its straight edges, px of the frame; null where lines do not tell. */
  findPlate: async (ctx: EngineContext, p: { frame: FrameRecord; focal: KnownFocal | null }, task: Task): Promise<FoundPlate | null> => {
    await task.step(0, 1, "task.looking");
    const pyramid = await heldGrey(ctx, p.frame);
    const grey = levelOf(pyramid, levelOfSide(pyramid, PLATE_SIDE));
    const size = { width: pyramid.width, height: pyramid.height };
    return ctx.pool.run("findPlate", { grey, size, focal: p.focal }, () => task.step(0.3, 1, "task.lines"));
  },
  /** What each marked shadow of a plate tells of its light; null where none is seen. */
  measureShadows: measureMarks,
  /** Towards the light by the shading of a ball that a frame shows; "even" where no side of it is lit, null where it does not tell. @param middle, radius px of the frame */
  ballLight: async (
    ctx: EngineContext,
    p: { frame: FrameRecord; stance: Stance; heightM: number; middle: [number, number]; radius: number },
    task: Task,
  ): Promise<LightDirection | "even" | null> => {
    await task.step(0, 1, "task.looking");
    const picture = cutPicture(ctx, { file: await openFrame(ctx, p.frame), color: await colorOf(ctx, p.frame.sourceId) }, pictureIdOf(p.frame));
    const size = { width: picture.width, height: picture.height };
    const level = Math.max(0, Math.min(picture.levels - 1, Math.floor(Math.log2(p.radius / BALL_RADIUS))));
    const s = 2 ** level;
    const [x0, y0] = p.middle.map((v) => Math.floor((v - p.radius) / s) - 1);
    const side = Math.ceil((2 * p.radius) / s) + 3;
    const rect = intersect({ x: x0, y: y0, width: side, height: side }, { x: 0, y: 0, ...sizeAtLevel(size.width, size.height, level) });
    if (rect.width < 2 || rect.height < 2) return null;
    const planes = picture.read(level, rect);
    const at = (v: number, from: number, length: number) => Math.min(length - 1, Math.max(0, Math.round((v + 0.5) / s - 0.5) - from));
    const lightAt = (x: number, y: number) => {
      const i = at(y, rect.y, rect.height) * rect.width + at(x, rect.x, rect.width);
      return LUMINANCE.reduce((sum, w, c) => sum + w * planes[c][i], 0);
    };
    return ballLight(new GroundCamera(size, p.stance, p.heightM), p.middle, p.radius, lightAt);
  },
  /** Where the ground around the shadow of what a seat shows lies in the light, and where in the plate's own shade; null: there is one light only. @param ratioEv light over shade */
  litGround: async (ctx: EngineContext, p: { records: Records; seatId: string; ratioEv: number }, task: Task): Promise<LitGround | null> => {
    const around = groundAround(p.records, p.seatId);
    if (!around) return null;
    const { rect, level, isGround } = around;
    const plate = await barePlate(ctx, p.records, task);
    const planes = plate.read(level, rect);
    const places = [...planes[0].keys()].filter(isGround);
    const log = (plane: (i: number) => number) => Float32Array.from(places, (i) => Math.log2(Math.max(DARKEST, plane(i))));
    const rgb = planes.map((plane) => log((i) => plane[i])) as GroundLight["rgb"];
    return litGround({ y: log((i) => LUMINANCE.reduce((sum, w, c) => sum + w * planes[c][i], 0)), rgb }, p.ratioEv);
  },
  /** What the water that a seat's thing is mirrored in shows without it, and how steep its ripples are; null: no water is marked where that would be. */
  waterUnder: async (ctx: EngineContext, p: { records: Records; seatId: string }, task: Task): Promise<WaterFigures | null> => {
    const place = waterPlace(p.records, p.seatId);
    return place && waterUnder(place, await barePlate(ctx, p.records, task));
  },
  /** Where the light on what a layer shows comes from, as its outline tells, in the plane of the picture and as the layer shows it; "even" where it has no side, null where it does not tell. */
  outlineLight: async (ctx: EngineContext, p: { records: Records; layerId: string }, task: Task): Promise<OutlineLight | "even" | null> =>
    outlineLightOf(await prepareJob(ctx, p.records, portion(task, 0, 0.5)), p.layerId, portion(task, 0.5, 1)),
  /** How much of what a plate shows its air hides with distance, and with what light; null where too little tells. */
  measureHaze: (ctx: EngineContext, p: { records: Records }, task: Task): Promise<MeasuredAir | null> => measureHaze(ctx, p.records, task),
  /** Foot and top of what a layer shows, px of that; null where it shows nothing. @throws Refusal where nothing can be told apart */
  standsAt: async (ctx: EngineContext, p: { records: Records; layerId: string }, task: Task): Promise<SeatRecord["own"] | null> => {
    const layer = layerOf(p.records, p.layerId);
    if (layer?.content.type !== "frame") return null;
    const cutter = (await prepareJob(ctx, p.records, portion(task, 0, 0.5))).cutouts.get(p.layerId);
    if (cutter) return standsAt(cutter, portion(task, 0.5, 1));
    const size = shownSize(p.records, layer.content.frameId);
    return size && { footX: (size.width - 1) / 2, footY: size.height - 1, topX: (size.width - 1) / 2, topY: 0 };
  },
};
