import { randomOf } from "../../../tests/support/kernels";
import { MARGIN, measureLateral, type ColourPatch } from "./lateralColour";

const random = randomOf(5);
const side = 40 + 2 * MARGIN;
const [width, height] = [2400, 1600];

/** Smooth structure of a scene, continuous, so that it can be sampled between samples. */
const waves = Array.from({ length: 12 }, () => ({ u: (random() - 0.5) * 0.9, v: (random() - 0.5) * 0.9, phase: 6.3 * random() }));
const scene = (x: number, y: number) => 0.5 + waves.reduce((sum, { u, v, phase }) => sum + 0.03 * Math.sin(u * x + v * y + phase), 0);

/** Squares of a frame whose red and blue are larger by shares and of other brightness, with noise. */
function patches(red: number, blue: number, noise = 0.004): ColourPatch[] {
  const found: ColourPatch[] = [];
  for (let top = 0; top + side <= height; top += 380) {
    for (let left = 0; left + side <= width; left += 380) {
      const [x0, y0] = [left - (width - 1) / 2, top - (height - 1) / 2];
      const plane = (larger: number, gain: number, offset: number) =>
        Float32Array.from({ length: side * side }, (_, i) => {
          const [x, y] = [x0 + (i % side), y0 + Math.floor(i / side)];
          // what lies at p in green lies at p · (1 + larger) here
          return offset + gain * scene(x / (1 + larger), y / (1 + larger)) + noise * (random() + random() + random() - 1.5) * 2;
        });
      found.push({ red: plane(red, 0.8, 0.1), green: plane(0, 1, 0), blue: plane(blue, 0.6, 0.1), side, x: x0, y: y0 });
    }
  }
  return found;
}

it.each([
  [6e-4, -9e-4],
  [-2e-3, 1.5e-3],
  [0, 0],
])("red larger by %f and blue by %f are found to a twentieth of a px at the corner, and their error is known", (red, blue) => {
  const found = measureLateral(patches(red, blue))!;
  const corner = Math.hypot(width, height) / 2;
  for (const [got, wanted, sigma] of [
    [found.red, red, found.sigma.red],
    [found.blue, blue, found.sigma.blue],
  ]) {
    expect(Math.abs(got - wanted) * corner).toBeLessThan(0.05);
    expect(Math.abs(got - wanted)).toBeLessThan(5 * sigma);
    expect(sigma * corner).toBeLessThan(0.05);
  }
});

it("even areas, and colours that show other things, say nothing", () => {
  const even = patches(0, 0).map((p) => ({ ...p, red: p.red.map(() => 0.5), green: p.green.map(() => 0.5), blue: p.blue.map(() => 0.5) }));
  expect(measureLateral(even)).toBeNull();
  expect(measureLateral(patches(0, 0).map((p) => ({ ...p, red: p.red.map(() => 0.2 + 0.6 * random()) })))).toBeNull();
});
