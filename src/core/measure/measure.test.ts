/** Measures on pictures whose truth is known because the test made them from the definition. */
import { encodeSrgb } from "../color/srgbCurve";
import { randomOf } from "../../../tests/support/kernels";
import { measureClipping, measureEdgeWidth, measureNoise } from "./frameMeasures";
import { measureRelativeExposure, thumbprintOfGreen } from "./relativeExposure";

const random = randomOf(11);
const gauss = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
/** Error function, Abramowitz and Stegun 7.1.26. */
const erf = (x: number) => {
  const t = 1 / (1 + 0.3275911 * Math.abs(x));
  const y = 1 - ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-x * x);
  return x < 0 ? -y : y;
};

it("counts clipped samples per channel", () => {
  const data = Uint8Array.from([255, 0, 10, 255, 4, 10, 7, 0, 10, 9, 0, 10]);
  expect(measureClipping({ width: 2, height: 2, bits: 8, data })).toEqual({ high: [0.5, 0, 0], low: [0, 0.75, 0] });
});

it("finds the noise of a flat area to 6 %", () => {
  const [w, h] = [400, 300];
  for (const sigma of [0.8, 3]) {
    const data = Uint16Array.from({ length: w * h }, () => Math.round((120 + sigma * gauss()) * 257));
    const found = measureNoise({ width: w, height: h, data });
    expect(found.sigma / sigma).toBeGreaterThan(0.94);
    expect(found.sigma / sigma).toBeLessThan(1.06);
  }
});

it("an edge blurred by a Gaussian has its 10 to 90 % width, 2.563 sigma, to 12 %, at any contrast", () => {
  const [w, h] = [640, 480];
  for (const [sigma, low, high] of [
    [0.9, 60, 200],
    [1.6, 100, 150],
  ]) {
    const data = new Uint16Array(w * h);
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        const t = 0.5 + 0.5 * erf((Math.abs((x % 160) - 80) - 40 + (y % 7) / 7) / (sigma * Math.SQRT2));
        data[y * w + x] = Math.round((low + (high - low) * t) * 257);
      }
    }
    const width = measureEdgeWidth({ width: w, height: h, data });
    expect(width / (2.563 * sigma)).toBeGreaterThan(0.88);
    expect(width / (2.563 * sigma)).toBeLessThan(1.12);
  }
});

it("a flat frame has no edge to measure", () => {
  expect(measureEdgeWidth({ width: 200, height: 200, data: new Uint16Array(40000).fill(20000) })).toBe(0);
});

it("measures the exposure ratio from pixels although the frames are shifted and one clips", () => {
  const [w, h] = [300, 200];
  const scene = (x: number, y: number) => 0.02 + 0.5 * (0.5 + 0.5 * Math.sin(x / 17)) ** 3 + 0.3 * (0.5 + 0.5 * Math.cos(y / 23 + x / 60)) ** 4;
  const shot = (ev: number, dx: number) =>
    Uint16Array.from({ length: w * h }, (_, i) => 65535 * encodeSrgb(Math.min(1, scene((i % w) + dx, Math.floor(i / w)) * 2 ** ev)));
  const print = (ev: number, dx: number) => thumbprintOfGreen(shot(ev, dx), w, h, 65535);
  // the shift brings 2 % of other scene into the frame; 0.08 EV is what that may change
  for (const ev of [1, 2, 2.3]) expect(Math.abs(measureRelativeExposure(print(0, 0), print(ev, 6))! - ev)).toBeLessThan(0.08);
  expect(measureRelativeExposure(print(-12, 0), print(0, 0))).toBeNull();
});
