import { whiteBalanceMatrix } from "../color/whiteBalance";
import { transform } from "../geometry/matrix3";
import { randomOf } from "../../../tests/support/kernels";
import { asIfPlaces, bothTell, clippedShare, evenLight, eveningMatrix } from "./evenLight";
import type { Samples } from "./transfer";

const random = randomOf(5);
const scene: Samples = { count: 3000, light: Float32Array.from({ length: 9000 }, () => 0.01 + 0.45 * ((random() + 1) / 2) ** 2) };
const through = ({ count, light }: Samples, m: readonly number[]): Samples => ({
  count,
  light: Float32Array.from({ length: 3 * count }, (_, i) => transform(m, [...light.subarray(i - (i % 3), i - (i % 3) + 3)])[i % 3]),
});

it("exposure and white balance are told by the same places", () => {
  const said = { exposureEv: 0.7, mired: -35, duv: 0.006 };
  const found = evenLight(scene, through(scene, eveningMatrix(said)))!;
  expect(found.exposureEv).toBeCloseTo(said.exposureEv, 3);
  expect(found.mired).toBeCloseTo(said.mired, 1);
  expect(found.duv).toBeCloseTo(said.duv, 4);
  expect(eveningMatrix({ exposureEv: 1, mired: 20, duv: 0 })).toEqual(whiteBalanceMatrix(20, 0).map((v) => 2 * v));
});

it("a third of the places that moved changes little", () => {
  const wanted = through(scene, eveningMatrix({ exposureEv: -0.5, mired: 20, duv: 0 }));
  for (let i = 0; i < wanted.light.length / 3; i++) wanted.light[i] = 0.02 + 0.3 * ((random() + 1) / 2);
  const found = evenLight(scene, wanted)!;
  expect(found.exposureEv).toBeCloseTo(-0.5, 0);
  expect(Math.abs(found.exposureEv + 0.5)).toBeLessThan(0.1);
  expect(Math.abs(found.mired - 20)).toBeLessThan(8);
});

it("what is clipped or dark on either side tells nothing", () => {
  const bright = { count: scene.count, light: scene.light.map(() => 1) };
  expect(bothTell(scene, bright).own.count).toBe(0);
  expect(evenLight(scene, bright)).toBeNull();
  expect(
    evenLight({ count: 2, light: Float32Array.of(0.2, 0.2, 0.2, 0.3, 0.3, 0.3) }, { count: 2, light: Float32Array.of(0.2, 0.2, 0.2, 0.3, 0.3, 0.3) }),
  ).toBeNull();
  expect(clippedShare(bright)).toBe(1);
  expect(clippedShare(scene)).toBe(0);
  expect(clippedShare({ count: 0, light: new Float32Array(0) })).toBe(0);
});

it("another order of the same light is told by its tones", () => {
  const said = { exposureEv: -0.6, mired: 15, duv: -0.003 };
  const made = through(scene, eveningMatrix(said)).light;
  const turned: Samples = { count: scene.count, light: Float32Array.from(made, (_, i) => made[(i + 3000) % made.length]) };
  const { own, wanted } = asIfPlaces(scene, turned);
  const found = evenLight(own, wanted)!;
  expect(found.exposureEv).toBeCloseTo(said.exposureEv, 1);
  expect(Math.abs(found.mired - said.mired)).toBeLessThan(5);
});

it("goes no further than a frame can be developed", () => {
  const found = evenLight({ count: scene.count, light: scene.light.map((v) => v / 40) }, scene);
  expect(found === null || found.exposureEv <= 4).toBe(true);
});
