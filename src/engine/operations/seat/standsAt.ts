import { levelOfSide } from "../../../core/geometry/rectangle";
import type { SeatRecord } from "../../../document/records/plateTypes";
import type { Task } from "../../task";
import type { Cutter } from "../matte/Cutter";
import { eachInFront } from "../matte/LevelMatte";

/** Longest side that is looked at, samples. */
const SIDE = 800;
/** Alpha of what is there. */
const THERE = 0.5;
/** Share of the height whose middle is the foot: both feet of whoever stands on two. */
const END = 0.06;

/** Foot and top of what is cut out: the middle of its lowest rows, and straight over it, for a hand may be raised, the height of the highest; px of the picture it is cut out of; null where nothing is there. */
export async function standsAt(cutter: Cutter, task: Task): Promise<SeatRecord["own"] | null> {
  const { levels } = cutter.picture;
  const level = Math.min(levels - 1, Math.max(0, levelOfSide(cutter.picture, SIDE)));
  const matte = await cutter.prepare(level, task);
  const { rect } = matte;
  const places: { x: number; y: number }[] = [];
  eachInFront(matte, rect, (i, alpha) => {
    if (alpha >= THERE) places.push({ x: rect.x + (i % rect.width), y: rect.y + Math.floor(i / rect.width) });
  });
  if (places.length === 0) return null;
  let [lowest, highest] = [-Infinity, Infinity];
  for (const { y } of places) [lowest, highest] = [Math.max(lowest, y), Math.min(highest, y)];
  const end = Math.max(1, END * (lowest - highest));
  const xs = places.filter((p) => p.y > lowest - end).map((p) => p.x);
  const middle = (xs.reduce((least, x) => Math.min(least, x), Infinity) + xs.reduce((most, x) => Math.max(most, x), -Infinity)) / 2;
  const up = (v: number) => (v + 0.5) * 2 ** level - 0.5;
  return { footX: up(middle), footY: up(lowest + 0.5), topX: up(middle), topY: up(highest - 0.5) };
}
