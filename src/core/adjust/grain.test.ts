/** Grain as it is asked for: measured back by what measures noise in pictures. */
import { decodeSrgb } from "../color/srgbCurve";
import { BLOCK, encodedBlock, NoiseGatherer, type NoiseFigures } from "../measure/noiseFigures";
import { noiseBeside, grainStep } from "../match/grainStep";
import { addGrain, grainAt, grainField } from "./grain";

const SIDE = 512;
const ASKED = { dark: 3, middle: 4, light: 2.2, red: 1.2, blue: 1.5, sizePx: 0.7, common: 0.4, seed: 7 };

/** Grey steps from dark to light, each four blocks high, that are grained. */
function grained(values: Record<string, number>, level = 0, x = 0): Float32Array[] {
  const planes = [0, 1, 2].map(() => Float32Array.from({ length: SIDE * SIDE }, (_, i) => decodeSrgb(0.1 + (0.8 * Math.floor(i / SIDE / 64)) / 7)));
  addGrain(planes, values, level, { x, y: 0, width: SIDE, height: SIDE });
  return planes;
}

function measured(planes: Float32Array[]): NoiseFigures {
  const gatherer = new NoiseGatherer();
  for (let y = 0; y < SIDE; y += BLOCK) for (let x = 0; x < SIDE; x += BLOCK) gatherer.add(encodedBlock(planes, SIDE, x, y));
  return gatherer.figures();
}

const deviation = (f: Float32Array) => Math.sqrt(f.reduce((s, v) => s + v * v, 0) / f.length);

it("is measured as it was asked for: by tone and channel to a tenth, and as coarse to an eighth", () => {
  const told = measured(grained(ASKED));
  const at = (encoded: number) => told.tones.reduce((p, q) => (Math.abs(q.encoded - encoded) < Math.abs(p.encoded - encoded) ? q : p));
  for (const [encoded, sigma] of [
    [0.1875, 3 + (0.0375 / 0.35) * 1],
    [0.4375, 4 - (0.0625 / 0.35) * 1],
    [0.8125, 2.2 + (0.0375 / 0.35) * 1.8],
  ]) {
    const { sigma: found } = at(encoded);
    [1.2, 1, 1.5].forEach((times, c) => expect(Math.abs(found[c] / (sigma * times) - 1)).toBeLessThan(0.1));
  }
  expect(Math.abs(told.grainPx! / 0.7 - 1)).toBeLessThan(0.125);
  expect(told.common).toBeCloseTo(0.4, 1);
});

it("without a size px have nothing to do with each other; coarse grain is as coarse as it says", () => {
  expect(measured(grained({ ...ASKED, sizePx: 0 })).grainPx).toBe(0);
  expect(Math.abs(measured(grained({ ...ASKED, sizePx: 1.4 })).grainPx! / 1.4 - 1)).toBeLessThan(0.15);
});

it("is the same in a place whatever rectangle is asked for, and another by its seed", () => {
  const whole = grainField(0.8, 3, 0, { x: 0, y: 0, width: 64, height: 48 });
  const part = grainField(0.8, 3, 0, { x: 20, y: 11, width: 16, height: 9 });
  for (let j = 0; j < 9; j++) for (let i = 0; i < 16; i++) expect(part[j * 16 + i]).toBeCloseTo(whole[(j + 11) * 64 + i + 20], 6);
  const other = grainField(0.8, 4, 0, { x: 0, y: 0, width: 64, height: 48 });
  const together = whole.reduce((s, v, i) => s + v * other[i], 0) / whole.length;
  expect(Math.abs(together)).toBeLessThan(0.1);
});

it.each([0, 0.7, 1.5])("of %s px is as much on coarse levels as means of it are", (sizePx) => {
  const fine = grainField(sizePx, 5, 0, { x: 0, y: 0, width: SIDE, height: SIDE });
  for (const level of [1, 2, 3]) {
    const wide = 2 ** level;
    const side = SIDE / wide;
    const means = new Float32Array(side * side);
    fine.forEach((v, i) => (means[Math.floor(Math.floor(i / SIDE) / wide) * side + Math.floor((i % SIDE) / wide)] += v / (wide * wide)));
    expect(Math.abs(grainAt(sizePx, level).times / deviation(means) - 1)).toBeLessThan(0.15);
    expect(deviation(grainField(sizePx, 5, level, { x: 0, y: 0, width: side, height: side }))).toBeCloseTo(1, 1);
  }
});

it("what is quieter gets what it lacks: together as noisy as the other to a tenth; what is noisier gets none", () => {
  const [quiet, noisy] = [measured(grained({ ...ASKED, dark: 1, middle: 1.2, light: 0.8 })), measured(grained(ASKED))];
  const step = grainStep(quiet, noisy, 1)!;
  const planes = grained({ ...ASKED, dark: 1, middle: 1.2, light: 0.8 });
  addGrain(planes, { ...ASKED, ...step.values, seed: 11 }, 0, { x: 0, y: 0, width: SIDE, height: SIDE });
  const after = noiseBeside(measured(planes), noisy)!;
  expect(Math.abs(after.own / after.other - 1)).toBeLessThan(0.1);
  expect(step.after).toBeLessThan(0.1 * step.before + 0.1);
  expect(grainStep(noisy, quiet, 1)).toBeNull();
  expect(grainStep(noisy, noisy, 1)).toBeNull();
});
