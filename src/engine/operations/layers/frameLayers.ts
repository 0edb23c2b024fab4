import { IDENTITY, invert, project, type Matrix3 } from "../../../core/geometry/matrix3";
import { movedMatrix } from "../../../document/outputGeometry";
import { UNMOVED, type FrameContent, type Moved } from "../../../kinds/contents/frame/record";
import type { ShownFrame } from "../merge/readLayer";
import type { PreparedJob } from "./PreparedJob";

/** What a frame layer shows, and how it was put elsewhere: null where it lies as it was registered. */
export function shownBy({ inputs, pictures }: Pick<PreparedJob, "inputs" | "pictures">, { frameId, moved }: FrameContent) {
  const input = inputs.frames.find((f) => f.frame.id === frameId);
  const shown: ShownFrame | undefined = input ?? pictures.get(frameId);
  return { input, shown, moved: moved ?? (input ? null : UNMOVED) };
}

/** Px of the picture → px of what a moved frame shows. */
export const toOwnPlace = (moved: Moved, { width, height }: { width: number; height: number }, { file: { spec } }: ShownFrame): Matrix3 =>
  invert(movedMatrix(moved, { width, height }, spec));

/** Px of what a frame layer shows → px of the picture. */
export function toPicturePlace(job: PreparedJob, content: FrameContent): Matrix3 {
  const { shown, moved } = shownBy(job, content);
  return shown && moved ? movedMatrix(moved, job.inputs, shown.file.spec) : IDENTITY;
}

/** The display level of a picture that comes nearest to the scale it is shown at, at a place of the full size. */
export function levelAt(toOwn: Matrix3, [x, y]: readonly number[], level: number, levels: number): number {
  const [from, to] = [project(toOwn, x, y), project(toOwn, x + 1, y)];
  return Math.max(0, Math.min(levels - 1, Math.round(level + Math.log2(Math.hypot(to[0] - from[0], to[1] - from[1])))));
}

/** The level at which something cut out of a frame is looked at, one for all of it, where the picture is shown at a level. */
export function ownLevel(job: PreparedJob, content: FrameContent, level: number): number {
  const { shown, moved } = shownBy(job, content);
  if (!shown || !moved) return level;
  const { spec } = shown.file;
  const middle = project(movedMatrix(moved, job.inputs, spec), spec.width / 2, spec.height / 2);
  return levelAt(toOwnPlace(moved, job.inputs, shown), middle, level, spec.levels);
}
