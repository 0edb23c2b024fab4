import { floorEv, relativeNoise } from "./confidence";

const noise = { shot: 1e-4, readSquared: 1e-7 };

describe("noise of merged light", () => {
  it("of one frame is its shot and read noise", () => {
    for (const light of [0.01, 0.2, 0.9]) expect(relativeNoise(light, 1, 1, noise)).toBeCloseTo(Math.sqrt(1e-4 * light + 1e-7) / light, 9);
    // four times the exposure, shot noise alone: half the noise
    const shot = { shot: 1e-4, readSquared: 0 };
    expect(relativeNoise(0.1, 4, 1, shot) / relativeNoise(0.1, 1, 1, shot)).toBeCloseTo(0.5, 9);
  });

  it("of two equal frames is lower by the square root of two", () => {
    expect(relativeNoise(0.1, 1, 0.5, noise) * Math.SQRT2).toBeCloseTo(relativeNoise(0.1, 1, 1, noise), 9);
  });

  it("has no bounds where the frame that gives most is clipped, or there is no light", () => {
    expect(relativeNoise(1.2, 1, 1, noise)).toBe(Infinity);
    expect(relativeNoise(0, 1, 1, noise)).toBe(Infinity);
    expect(relativeNoise(NaN, 1, 1, noise)).toBe(Infinity);
  });
});

it("the floor is where light equals its noise: the root of L² = shot L + read²", () => {
  const root = (1e-4 + Math.sqrt(1e-8 + 4e-7)) / 2;
  expect(floorEv([1], noise)).toBeCloseTo(Math.log2(root), 6);
  // read noise alone, two stops more exposure: two stops deeper
  const read = { shot: 0, readSquared: 1e-6 };
  expect(floorEv([1], read) - floorEv([4], read)).toBeCloseTo(2, 6);
  expect(floorEv([0.25, 1, 4], noise)).toBeLessThan(floorEv([4], noise));
});
