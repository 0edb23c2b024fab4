import { invert, multiply, type Matrix3 } from "../geometry/matrix3";
import { gaussianWeights } from "../raster/blur";
import type { Vector3 } from "../panorama/camera";
import type { GroundCamera } from "./groundCamera";
import { acrossOf } from "./standing";

/** Refractive index of water for visible light at 20 °C. @see IAPWS R9-97, 589 nm */
const WATER_INDEX = 1.333;

/** Share of light that still water throws back, of both polarisations. @param cosine of the angle from straight down @see Fresnel's equations, any optics handbook */
export function fresnel(cosine: number): number {
  const c = Math.min(1, Math.max(0, cosine));
  const through = Math.sqrt(1 - (1 - c * c) / (WATER_INDEX * WATER_INDEX));
  const [across, along] = [(c - WATER_INDEX * through) / (c + WATER_INDEX * through), (through - WATER_INDEX * c) / (through + WATER_INDEX * c)];
  return (across * across + along * along) / 2;
}

/** Px of the plate that show something upright at a foot → px that show it mirrored in level water. @param levelM height of the water over the ground */
export function mirroredIn(camera: GroundCamera, foot: Vector3, levelM: number): Matrix3 {
  const across = acrossOf(foot);
  const mirrored = camera.planeMatrix([foot[0], 2 * levelM - foot[1], foot[2]], across, [0, -1, 0]);
  return multiply(mirrored, invert(camera.planeMatrix(foot, across, [0, 1, 0])));
}

/** Px of the plate that show something as far away as the sky → px that show it mirrored in level water, whose height does not matter then. */
export function mirroredFar({ axesInCamera, stance, size }: GroundCamera): Matrix3 {
  const { right, up, ahead } = axesInCamera;
  const [cx, cy] = [(size.width - 1) / 2, (size.height - 1) / 2];
  const { focalPx } = stance;
  // what is up in a direction is turned down
  const turned = [0, 1, 2].flatMap((row) => [0, 1, 2].map((k) => right[row] * right[k] - up[row] * up[k] + ahead[row] * ahead[k]));
  return multiply([focalPx, 0, cx, 0, focalPx, cy, 0, 0, 1], multiply(turned, [1 / focalPx, 0, -cx / focalPx, 0, 1 / focalPx, -cy / focalPx, 0, 0, 1]));
}

/**
 * How far ripples smear what water mirrors, px (1 standard deviation), up and down; across it is less by the sine of the angle at which the water is seen.
 * @param slope of the ripples, RMS @param share of the way from what is mirrored to the camera at which the water is looked at, 0..1
 */
export const ripplePx = (focalPx: number, slope: number, share: number): number => 2 * focalPx * slope * Math.max(0, share);

/** Slopes that are tried, and the least of what of a mirror image has to be told by what it mirrors. */
const SLOPES = Array.from({ length: 25 }, (_, i) => 0.002 * 10 ** (i / 14));
const LEAST_TOLD = 0.35;
/** What of the shore and of its mirror image differs within each, at least, of their mean. */
const LEAST_CONTRAST = 0.02;
/** Rows of a shore, at least. */
const FEWEST = 12;

/**
 * How steep ripples are, RMS, by how much softer than the shore its mirror image is.
 * @param above columns of the shore, from the water's edge up, light @param below the same columns from the edge down
 * @param shareAt share of the way to the camera so many rows below the edge
 * @returns null where the water mirrors nothing that can be told, or not upright
 */
export function rippleSlope(above: readonly Float64Array[], below: readonly Float64Array[], focalPx: number, shareAt: (row: number) => number): number | null {
  const rows = Math.min(...[...above, ...below].map((c) => c.length));
  if (above.length === 0 || rows < FEWEST) return null;
  let best: { slope: number; told: number } | null = null;
  for (const slope of SLOPES) {
    const kernels = Array.from({ length: rows }, (_, k) => toOne(gaussianWeights(Math.max(0.3, ripplePx(focalPx, slope, shareAt(k))))));
    // the gain and the offset of the water are its own, one for all
    let [n, sx, sy, sxx, sxy, syy] = [0, 0, 0, 0, 0, 0];
    above.forEach((shore, c) => {
      for (let k = 0; k < rows; k++) {
        const kernel = kernels[k];
        const half = (kernel.length - 1) / 2;
        // what is smeared from above the strip is not known
        if (k + half >= rows) continue;
        let x = 0;
        for (let i = -half; i <= half; i++) x += kernel[i + half] * shore[Math.abs(k + i)];
        const y = below[c][k];
        n++;
        sx += x;
        sy += y;
        sxx += x * x;
        sxy += x * y;
        syy += y * y;
      }
    });
    if (n < FEWEST * above.length) continue;
    const [vx, vy, vxy] = [sxx - (sx * sx) / n, syy - (sy * sy) / n, sxy - (sx * sy) / n];
    const isEven = vx * n < (LEAST_CONTRAST * sx) ** 2 || vy * n < (LEAST_CONTRAST * sy) ** 2;
    const told = !isEven && vxy > 0 ? (vxy * vxy) / (vx * vy) : 0;
    if (!best || told > best.told) best = { slope, told };
  }
  return best && best.told >= LEAST_TOLD ? best.slope : null;
}

function toOne(weights: Float64Array): Float64Array {
  const sum = weights.reduce((a, b) => a + b, 0);
  return weights.map((w) => w / sum);
}
