import { LUMINANCE } from "../../../core/color/primaries";
import { levelOfSide } from "../../../core/geometry/rectangle";
import { outlineLight, type OutlineLight } from "../../../core/seat/outlineLight";
import { layerOf } from "../../../document/selectors";
import type { Task } from "../../task";
import type { PreparedJob } from "../layers/PreparedJob";
import { eachInFront, type FreedMatte } from "../matte/LevelMatte";
import type { CutPicture } from "../matte/CutProposals";

/** Longest side that is looked at, samples. */
const SIDE = 800;
/** Samples around what is cut out. */
const MARGIN = 8;

/** The light on what a layer shows; null where nothing is cut out, or the outline tells none. */
export async function outlineLightOf({ records, cutouts }: PreparedJob, layerId: string, task: Task): Promise<OutlineLight | "even" | null> {
  const cutter = cutouts.get(layerId);
  const content = layerOf(records, layerId)?.content;
  if (!cutter || content?.type !== "frame") return null;
  const { picture } = cutter;
  const level = Math.min(picture.levels - 1, Math.max(0, levelOfSide(picture, SIDE)));
  const matte = await cutter.prepareShown(level, task);
  const told = matte && toldBy(picture, matte, level);
  if (!told || told === "even") return told;
  // as the layer shows it: turned, and left for right
  const { mirrored = false, angleDeg = 0 } = content.moved ?? {};
  const shown = (mirrored ? 180 - told.angleDeg : told.angleDeg) - angleDeg;
  return { ...told, angleDeg: ((((shown + 180) % 360) + 360) % 360) - 180 };
}

function toldBy(picture: CutPicture, matte: FreedMatte, level: number): OutlineLight | "even" | null {
  const { x, y, width, height } = matte.rect;
  const rect = { x: x - MARGIN, y: y - MARGIN, width: width + 2 * MARGIN, height: height + 2 * MARGIN };
  const alpha = new Float32Array(rect.width * rect.height);
  const light = new Float32Array(rect.width * rect.height);
  const read = picture.read(level, matte.rect);
  eachInFront(matte, rect, (i, value) => (alpha[i] = value));
  for (let j = 0; j < height; j++) {
    for (let i = 0; i < width; i++) light[(j + MARGIN) * rect.width + i + MARGIN] = LUMINANCE.reduce((s, w, c) => s + w * read[c][j * width + i], 0);
  }
  return outlineLight(alpha, light, rect.width, rect.height);
}
