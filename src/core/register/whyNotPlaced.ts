import { asMessage, message, type Message, type Telling } from "../../messages/message";
import type { Thumbprint } from "../measure/relativeExposure";
import { median } from "../numeric/statistics";
import type { RegionMask } from "./regions";
import type { SetFrame } from "./setFrames";

/** Share of the reference that must be left to count, and noise from which it is in the way, of 255. Common practice, no source. */
const LEAST_LEFT = 0.02;
const NOISY = 14;
/** How many times as wide as the others' a blurred frame's edges are. Common practice, no source. */
const BLURRED = 2;

/** Why a frame fits nowhere, as far as its figures tell, and what to do about it. */
export function whyNotPlaced(frames: SetFrame[], frame: number, reference: number, ev: number[], regions: RegionMask | null): Message {
  const [a, b] = [frames[frame], frames[reference]];
  if (a.width < 32 || a.height < 32) return message("placing.tooSmall", { size: `${a.width}×${a.height}` });
  if (regions && !regions.pinned && regions.share < LEAST_LEFT) return message("placing.masked", {});
  const gap = Math.min(...frames.flatMap((_, i) => (i === frame ? [] : [Math.abs(ev[i] - ev[frame])])));
  if (gap > 6.2) return message("placing.exposure", { ev: gap });
  return message("placing.lineUp", { why: asMessage(whatIsWrong(frames, frame, a, b)) });
}

function whatIsWrong(frames: SetFrame[], frame: number, a: SetFrame, b: SetFrame): Telling {
  const edges = frames.filter((f, i) => i !== frame && f.edgeWidthPx).map((f) => f.edgeWidthPx!);
  const usual = edges.length ? median(edges) : 0;
  const width = a.edgeWidthPx ?? 0;
  if (width && usual && width > BLURRED * usual) return message("placing.blurred", { width, usual });
  if (width && usual > BLURRED * width) return message("placing.othersBlurred", { width, usual });
  if ((a.noiseSigma ?? 0) > NOISY) return message("placing.noisy", { sigma: a.noiseSigma! });
  if (flatness(a.print) < 0.1) return "placing.plain";
  return a.width !== b.width || a.height !== b.height ? "placing.otherSize" : "placing.unlike";
}

/** Spread of a frame's light between its 5 and 95 % quantiles, EV. */
function flatness(print: Thumbprint): number {
  const sorted = Float32Array.from(print.linear).sort();
  const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))] + 1e-4;
  return Math.log2(at(0.95) / at(0.05));
}
