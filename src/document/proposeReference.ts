import { message, type Message } from "../messages/message";
import type { FrameRecord } from "./records/types";

/** The frame with least clipping at both ends and, among equals, the middle of the ladder. */
export function proposeReference(frames: FrameRecord[]): { frame: FrameRecord; reason: Message } {
  const worst = (v: [number, number, number]) => Math.max(...v);
  const loss = (f: FrameRecord) => worst(f.measures.clippedHigh) + worst(f.measures.clippedLow) + (f.measures.brightness < 0.02 ? 0.3 : 0);
  const ladder = [...frames].sort((a, b) => a.measures.brightness - b.measures.brightness);
  const middle = (ladder.length - 1) / 2;
  const score = (f: FrameRecord) => loss(f) + 0.12 * Math.abs(ladder.indexOf(f) - middle);
  const frame = [...frames].sort((a, b) => score(a) - score(b))[0];
  const percent = 100 * worst(frame.measures.clippedHigh);
  return { frame, reason: message(Math.abs(ladder.indexOf(frame) - middle) < 1 ? "reference.middle" : "reference.shares", { percent }) };
}
