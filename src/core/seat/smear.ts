/** Standard deviations under this smear nothing, samples. */
const LEAST = 0.05;

/**
 * Smears each row of a plane by a deviation of its own, up and down or across, in place: the mean over a box, twice. What lies beyond the plane is as its border.
 * @param sigmaOf deviation in samples, by row
 */
export function smear(data: Float32Array, width: number, height: number, along: "down" | "across", sigmaOf: ArrayLike<number>): void {
  const [lines, length, step, next] = along === "down" ? [width, height, width, 1] : [height, width, 1, width];
  const total = new Float64Array(length + 1);
  for (let pass = 0; pass < 2; pass++) {
    for (let line = 0; line < lines; line++) {
      const from = line * next;
      if (along === "across" && !(sigmaOf[line] > LEAST)) continue;
      for (let i = 0; i < length; i++) total[i + 1] = total[i] + data[from + i * step];
      for (let i = 0; i < length; i++) {
        const sigma = sigmaOf[along === "down" ? i : line];
        if (!(sigma > LEAST)) continue;
        // two boxes have the variance of one Gaussian
        const half = Math.max(0.5, sigma * Math.sqrt(1.5));
        data[from + i * step] = (upTo(total, i + 0.5 + half) - upTo(total, i + 0.5 - half)) / (2 * half);
      }
    }
  }
}

/** How many samples around a place are looked at. */
export const smearReach = (sigma: number): number => Math.ceil(2 * Math.max(0.5, sigma * Math.sqrt(1.5))) + 1;

/** The sum up to a place, between samples too; beyond the ends it goes on as there. */
function upTo(total: Float64Array, at: number): number {
  const n = total.length - 1;
  if (at <= 0) return at * total[1];
  if (at >= n) return total[n] + (at - n) * (total[n] - total[n - 1]);
  const i = Math.floor(at);
  return total[i] + (at - i) * (total[i + 1] - total[i]);
}
