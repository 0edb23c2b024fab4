import { encodeSrgb } from "../color/srgbCurve";
import { randomOf } from "../../../tests/support/kernels";
import { lightFigures, localToneOf, renderLight, sceneCandelas, wantedMean, wantedStrength, CHARACTERS } from "./characters";
import { structuralFidelity } from "./structuralFidelity";

const random = randomOf(3);
/** Light over a range, EV, about a middle. */
const scene = (middleEv: number, rangeEv: number, count = 4000): Float32Array =>
  Float32Array.from({ length: count }, () => 2 ** (middleEv + rangeEv * (random() - 0.5)));
const shownMean = (light: Float32Array, { exposure, contrast, toneResponse }: ReturnType<typeof renderLight>): number => {
  const white = 2 ** toneResponse.headroomEv;
  let sum = 0;
  for (const v of light) {
    const exposed = v * 2 ** exposure.ev;
    const graded = contrast.pivot * (exposed / contrast.pivot) ** contrast.factor;
    sum += graded >= white ? 1 : encodeSrgb(Math.min(1, graded));
  }
  return sum / light.length;
};

it("figures are those of the samples", () => {
  const f = lightFigures(Float32Array.from({ length: 1001 }, (_, i) => 2 ** (-i / 100)));
  expect(f.middle).toBeCloseTo(-5, 1);
  expect(f.mean).toBeCloseTo(-5, 2);
  expect([f.dark, f.light].map((v) => Math.round(10 * v) / 10)).toEqual([-9.9, -0.1]);
});

it("a meter's grey at EV 15 is that of a sunny day, and night stays night", () => {
  // ISO 2720: L = K 2^EV / S with K = 12.5 at ISO 100; the mean at 18 % of white
  const day = sceneCandelas({ ...lightFigures(scene(0, 1)), mean: Math.log2(0.18) }, 15);
  expect(day).toBeCloseTo(0.125 * 2 ** 15, 0);
  const f = lightFigures(scene(-3, 8));
  expect(wantedMean(f, 4000)).toBeCloseTo(0.46, 2);
  expect(wantedMean(f, 0.02)).toBeLessThan(0.21);
  expect(wantedMean(f, 1)).toBeLessThan(0.35);
  for (const [a, b] of [
    [0.001, 0.1],
    [0.1, 5],
    [5, 60],
    [60, 900],
  ])
    expect(wantedMean(f, b)).toBeGreaterThan(wantedMean(f, a));
  // without a word from the camera dark pictures with a few lamps are darker than even ones
  const lamps = Float32Array.from({ length: 4000 }, (_, i) => (i % 40 === 0 ? 4 : 0.004 * (1 + random() / 2)));
  expect(wantedMean(lightFigures(lamps), null)).toBeLessThan(wantedMean(f, null));
});

it("a range that a screen shows is not evened out, a larger one more the softer it is to be", () => {
  const [small, large] = [lightFigures(scene(-3, 6)), lightFigures(scene(-4, 15))];
  for (const character of CHARACTERS) expect(wantedStrength(character, small)).toBe(0);
  expect(wantedStrength("soft", large)).toBeGreaterThan(wantedStrength("true", large));
  expect(wantedStrength("true", large)).toBeGreaterThan(wantedStrength("rich", large));
  const local = localToneOf(0.437, large);
  expect(local.strength).toBe(0.44);
  expect(local.floorEv).toBeLessThan(local.pivotEv);
  expect(local.ceilingEv).toBeGreaterThan(local.pivotEv);
});

it.each([-9, -3, 3])("light about %d EV is brought to the mean that is wanted", (middle) => {
  const light = scene(middle, 7);
  const made = renderLight("true", light, 0.4, true);
  // between toe and shoulder the response is straight: the mean of the rest is near it
  expect(shownMean(light, made)).toBeGreaterThan(0.36);
  expect(shownMean(light, made)).toBeLessThan(0.5);
  expect(renderLight("rich", light, 0.4, true).exposure.ev).toBeLessThan(renderLight("soft", light, 0.4, true).exposure.ev);
  expect(renderLight("rich", light, 0.4, true).contrast.factor).toBeGreaterThan(1);
});

it("what is made for a screen is not pushed over white", () => {
  const light = scene(-3, 5.8);
  const { exposure } = renderLight("true", light, 0.6, false);
  expect(lightFigures(light).brightest + exposure.ev).toBeLessThanOrEqual(0.05);
});

describe("structural fidelity", () => {
  const [width, height] = [160, 120];
  const light = {
    width,
    height,
    data: Float32Array.from(
      { length: width * height },
      (_, i) => 0.2 + 0.15 * Math.sin((i % width) / 6) * Math.cos(Math.floor(i / width) / 5) + 0.06 * (random() - 0.5),
    ),
  };
  const shown = light.data.map((v) => 255 * encodeSrgb(v));
  it("a picture encoded as it is keeps nearly all, noise or a blank next to nothing", () => {
    const faithful = structuralFidelity(light, shown);
    expect(faithful).toBeGreaterThan(0.9);
    expect(faithful).toBeLessThanOrEqual(1);
    expect(
      structuralFidelity(
        light,
        shown.map(() => 128),
      ),
    ).toBeLessThan(0.3);
    expect(
      structuralFidelity(
        light,
        shown.map(() => 68 + 120 * random()),
      ),
    ).toBeLessThan(0.3);
  });
  it("it falls as highlights are clipped away", () => {
    const clipped = (most: number) =>
      structuralFidelity(
        light,
        shown.map((v) => Math.min(most, v)),
      );
    expect(clipped(150)).toBeLessThan(clipped(200));
    expect(clipped(110)).toBeLessThan(clipped(150));
  });
});
