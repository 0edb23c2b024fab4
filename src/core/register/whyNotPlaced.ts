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
export function whyNotPlaced(frames: SetFrame[], frame: number, reference: number, ev: number[], regions: RegionMask | null): string {
  const [a, b] = [frames[frame], frames[reference]];
  const points = "Line it up by control points, or leave it out.";
  if (a.width < 32 || a.height < 32) return `The frame is only ${a.width}×${a.height} px; registration needs at least 32×32.`;
  if (regions && !regions.pinned && regions.share < LEAST_LEFT)
    return `Nearly all of the reference is marked as not to count, so there is nothing to line this frame up with: mark less of it.`;
  const gap = Math.min(...frames.flatMap((_, i) => (i === frame ? [] : [Math.abs(ev[i] - ev[frame])])));
  if (gap > 6.2)
    return `No other frame is nearer than ${gap.toFixed(1)} EV in exposure, so hardly any light is usable in both. Add a frame between them, or use control points.`;
  const edges = frames.filter((f, i) => i !== frame && f.edgeWidthPx).map((f) => f.edgeWidthPx!);
  const usual = edges.length ? median(edges) : 0;
  if (a.edgeWidthPx && usual && a.edgeWidthPx > BLURRED * usual)
    return `The frame is blurred: its edges are ${a.edgeWidthPx.toFixed(1)} px wide, ${usual.toFixed(1)} px in the other frames. ${points}`;
  if (a.edgeWidthPx && usual > BLURRED * a.edgeWidthPx)
    return `The other frames are blurred: their edges are ${usual.toFixed(1)} px wide, ${a.edgeWidthPx.toFixed(1)} px in this one. ${points}`;
  if ((a.noiseSigma ?? 0) > NOISY)
    return `The frame is so noisy (standard deviation ${a.noiseSigma!.toFixed(0)} of 255 in its flat areas) that too little of it can be told apart. ${points}`;
  if (flatness(a.print) < 0.1) return `The frame has hardly any structure to hold on to. ${points}`;
  if (a.width !== b.width || a.height !== b.height) return `The frame has another size and no part of it was found in the reference. ${points}`;
  return `Too little of this frame agrees with any other frame, or only one part of it does: it shows another scene, overlaps too little, or is nearly empty. ${points}`;
}

/** Spread of a frame's light between its 5 and 95 % quantiles, EV. */
function flatness(print: Thumbprint): number {
  const sorted = Float32Array.from(print.linear).sort();
  const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))] + 1e-4;
  return Math.log2(at(0.95) / at(0.05));
}
