import { randomOf } from "../../../tests/support/kernels";
import { BLOCK, NoiseGatherer } from "./noiseFigures";

const random = randomOf(5);
const gauss = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
const N = BLOCK * BLOCK;

/** Blocks of a smooth surface with noise that grows with light, among blocks of texture. */
function gathered(sigmaAt: (mean: number) => number, grain = 0, textured = 0.4): NoiseGatherer {
  const gatherer = new NoiseGatherer();
  for (let b = 0; b < 900; b++) {
    const mean = 0.08 + 0.84 * random();
    const isTextured = random() < textured;
    const wide = BLOCK + 12;
    const field = () => {
      const white = Float32Array.from({ length: wide * wide }, gauss);
      if (grain === 0) return (x: number, y: number) => white[(y + 6) * wide + x + 6];
      const weights = Array.from({ length: 13 }, (_, k) => Math.exp(-((k - 6) ** 2) / (2 * grain ** 2)));
      const power = weights.reduce((s, w) => s + w * w, 0);
      return (x: number, y: number) => {
        let sum = 0;
        for (let j = 0; j < 13; j++) for (let i = 0; i < 13; i++) sum += weights[i] * weights[j] * white[(y + j) * wide + x + i];
        return sum / power;
      };
    };
    gatherer.add(
      [1, 0.8, 1.4].map((times) => {
        const noise = field();
        return Float32Array.from({ length: N }, (_, i) => {
          const [x, y] = [i % BLOCK, Math.floor(i / BLOCK)];
          return mean + 0.002 * x - 0.001 * y + (isTextured ? 0.1 * Math.sin(x * 1.1) : 0) + sigmaAt(mean) * times * noise(x, y);
        });
      }),
    );
  }
  return gatherer;
}

it("tells the noise of each tone and channel among texture and slopes", () => {
  const sigmaAt = (mean: number) => 0.004 + 0.012 * mean;
  const { tones, grainPx } = gathered(sigmaAt).figures();
  expect(tones.length).toBeGreaterThanOrEqual(6);
  for (const { encoded, sigma } of tones) {
    [1, 0.8, 1.4].forEach((times, c) => expect(Math.abs(sigma[c] / (255 * times * sigmaAt(encoded)) - 1)).toBeLessThan(0.12));
  }
  expect(grainPx).toBeLessThan(0.35);
});

it.each([0.7, 1, 1.5])("tells a grain of %p px by how neighbours go together", (grain) => {
  const { grainPx } = gathered(() => 0.01, grain, 0).figures();
  expect(Math.abs(grainPx! / grain - 1)).toBeLessThan(0.15);
});

it("takes no texture for noise", () => {
  const gatherer = new NoiseGatherer();
  for (let b = 0; b < 400; b++) {
    const [pitch, strength] = [0.3 + 1.5 * random(), 0.02 + 0.1 * random()];
    gatherer.add([0, 1, 2].map(() => Float32Array.from({ length: N }, (_, i) => 0.4 + strength * Math.sin((i % BLOCK) * pitch + b) + 0.002 * gauss())));
  }
  expect(gatherer.figures().tones).toEqual([]);
});

it("tells nothing of a surface that is clipped, or of too few blocks", () => {
  const gatherer = new NoiseGatherer();
  for (let b = 0; b < 40; b++) gatherer.add([0, 1, 2].map(() => new Float32Array(N).fill(1)));
  expect(gatherer.figures()).toEqual({ tones: [], grainPx: null, common: 0 });
  gatherer.add([0, 1, 2].map(() => new Float32Array(N).fill(0.5)));
  expect(gatherer.figures().tones).toEqual([]);
});
