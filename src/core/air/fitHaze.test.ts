import { PLAIN_FILTERS } from "../raster/filters";
import { clearAir, mapAir } from "./clearAir";
import { fitHaze, type Air } from "./fitHaze";
import { darkAround, horizonLight, placesByDistance, type HazePlace } from "./hazePlaces";

/** Ångström's law with α = 1.3 (1929), light by Koschmieder's (1924). */
const AIR: Air = { color: [0.6, 0.5, 0.4], perM: [610, 545, 465].map((nm) => (nm / 545) ** -1.3 / 90) };
const DARK = [0.02, 0.02, 0.015];
const HORIZON = { light: [0.58, 0.49, 0.4], sigma: 0.1 };

const seenAt = (distanceM: number, dark: readonly number[] = DARK, air = AIR): number[] =>
  air.color.map((a, c) => a - (a - dark[c]) * Math.exp(-air.perM[c] * distanceM));
const place = (distanceM: number, dark = DARK): HazePlace => ({ distanceM, light: seenAt(distanceM, dark), times: 1 });

it("air is told by equally dark places", () => {
  const found = fitHaze(
    [4, 7, 12, 20, 35, 60, 110, 200].map((d) => place(d)),
    HORIZON,
  )!;
  found.color.forEach((v, c) => expect(v / AIR.color[c]).toBeCloseTo(1, 1));
  found.perM.forEach((v, c) => expect(Math.abs(v / AIR.perM[c] - 1)).toBeLessThan(0.05));
});

it("places with nothing dark and places that stand nearer than they are taken to do not change much", () => {
  const sound = [4, 5, 7, 9, 12, 16, 20, 27, 35, 45, 60, 80, 110, 150, 200].map((d) => place(d));
  const light = [6, 14, 30].map((d) => place(d, [0.4, 0.4, 0.4]));
  const nearer = [50, 120].map((d) => ({ ...place(9), distanceM: d }));
  const found = fitHaze([...sound, ...light, ...nearer], HORIZON)!;
  found.perM.forEach((v, c) => expect(Math.abs(v / AIR.perM[c] - 1)).toBeLessThan(0.15));
});

it("what is as dark far away as near tells nothing", () => {
  expect(
    fitHaze(
      [4, 8, 16, 32, 64].map((d) => ({ distanceM: d, light: [0.3, 0.3, 0.3], times: 1 })),
      HORIZON,
    ),
  ).toBeNull();
});

it("two places, or places that are all as far away, tell nothing", () => {
  expect(fitHaze([place(5), place(50)], HORIZON)).toBeNull();
  expect(fitHaze([place(20), place(22), place(24), place(25)], HORIZON)).toBeNull();
  expect(fitHaze([place(5), place(50), { distanceM: NaN, light: [0, 0, 0], times: 1 }], HORIZON)).toBeNull();
});

/** A picture whose columns are farther and farther away, in squares of dark and light. */
const [W, H] = [240, 80];
const metresAt = (x: number): number => 5 * 40 ** (Math.floor(x / 40) / 5);
const planes = [0, 1, 2].map((c) =>
  Float32Array.from({ length: W * H }, (_, i) => {
    const [x, y] = [i % W, Math.floor(i / W)];
    return seenAt(metresAt(x), (x >> 2) % 2 === (y >> 2) % 2 ? DARK : [0.35, 0.3, 0.2])[c];
  }),
);
const SEEN = { width: W, height: H, planes };

it("places are evenly far away and tell their dark", () => {
  const places = placesByDistance(SEEN, metresAt);
  expect(places.length).toBeGreaterThan(40);
  for (const { distanceM, light } of places) light.forEach((v, c) => expect(v).toBeCloseTo(seenAt(distanceM)[c], 5));
  expect(placesByDistance(SEEN, () => null)).toEqual([]);
  expect(darkAround(SEEN, -90, 0)).toBeNull();
  const farthest = horizonLight(SEEN, () => 40)![0];
  expect(farthest).toBeGreaterThan(seenAt(metresAt(170))[0]);
  expect(farthest).toBeLessThanOrEqual(seenAt(200)[0] + 1e-6);
  expect(horizonLight(SEEN, () => -50)).toBeNull();
});

describe("haze taken away", () => {
  const hides = AIR.perM.map((v) => v / AIR.perM[1]);
  const map = mapAir(SEEN, 0, { color: AIR.color, hides }, PLAIN_FILTERS);
  const cleared = (amount: number, from = planes) => {
    const out = from.map((p) => p.slice());
    clearAir(out, { level: 0, rect: { x: 0, y: 0, width: W, height: H }, width: W, height: H }, { color: AIR.color, hides }, amount, 0.02, map);
    return out;
  };
  const spread = (plane: Float32Array, band: number) => {
    const row = plane.slice(40 * W + 40 * band + 8, 40 * W + 40 * band + 32);
    return Math.max(...row) - Math.min(...row);
  };

  it("far contrast comes back to within a fifth of the near one's", () => {
    const [green] = [cleared(1)[1]];
    for (const band of [1, 2, 3, 4]) {
      expect(spread(planes[1], band)).toBeLessThan(0.97 * spread(planes[1], 0));
      expect(Math.abs(spread(green, band) / 0.28 - 1)).toBeLessThan(0.2);
    }
  });

  it("none of it changes nothing, and what is laid on lightens what is dark", () => {
    cleared(0).forEach((plane, c) => plane.forEach((v, i) => expect(v).toBeCloseTo(planes[c][i], 6)));
    const more = cleared(-1);
    expect(spread(more[1], 3)).toBeLessThan(0.7 * spread(planes[1], 3));
  });

  it("what is lighter than the air stays", () => {
    const bright = planes.map((p) => p.map((v, i) => (i % W > 150 ? 2 : v)));
    cleared(1, bright).forEach((plane) => expect(plane[40 * W + 200]).toBe(2));
  });
});
