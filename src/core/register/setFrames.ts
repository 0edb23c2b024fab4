import { measureRelativeExposure, thumbprint, type Thumbprint } from "../measure/relativeExposure";
import { levelOf, type GreyPyramid } from "./greyPyramid";

/** What is known of a frame of a set before it is placed. */
export interface SetFrame {
  width: number;
  height: number;
  /** mean linear luminance, for the order of the ladder */
  brightness: number;
  print: Thumbprint;
  /** the frame's lens is known and undone already, so none is looked for */
  straight?: boolean;
  /** 10 to 90 % width of its sharpest edges, px; 0 where unknown */
  edgeWidthPx?: number;
  /** standard deviation of its flat areas, of 255; 0 where unknown */
  noiseSigma?: number;
}

export function describeFrame(pyramid: GreyPyramid): SetFrame {
  const level = Math.min(2, pyramid.levels.length - 1);
  const print = thumbprint(levelOf(pyramid, level));
  const brightness = print.linear.reduce((sum, v) => sum + v, 0) / print.linear.length;
  return { width: pyramid.width, height: pyramid.height, brightness, print };
}

/** Exposure of each frame against the darkest, EV, summed along the ladder from the pixels. */
export function ladderExposures(frames: SetFrame[], order: number[]): number[] {
  const ev = frames.map(() => 0);
  for (let k = 1; k < order.length; k++) {
    const [a, b] = [order[k - 1], order[k]];
    const measured = measureRelativeExposure(frames[a].print, frames[b].print);
    const fallback = Math.log2(Math.max(1e-4, frames[b].brightness) / Math.max(1e-4, frames[a].brightness));
    ev[b] = ev[a] + (measured ?? fallback);
  }
  return ev;
}
