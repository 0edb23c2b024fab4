/** Shadows of boards whose outlines on the ground are known in closed form. */
import type { Vector3 } from "../panorama/camera";
import { extentOf, volumeOf } from "./volume";
import { Scenery } from "./scenery";
import { castShadow, discDirections, lampPlaces, samplesOf, skyDirections } from "./castShadow";
import type { Body } from "./standing";
import { GroundCamera } from "./groundCamera";
import { directionOf } from "./lightFromShadows";

const SIZE = { width: 900, height: 600 };
const CAMERA = new GroundCamera(SIZE, { pitchDeg: -14, rollDeg: 1, focalPx: 800 }, 2);
const FOOT: Vector3 = [0.3, 0, 6];
const ALL = { x: 0, y: 0, ...SIZE };
const [WIDE, TALL] = [0.5, 1.2];

/** A board that faces the camera, as the plate shows it, drawn as its own picture. @param opacity of all of it */
function board(depth: number, opacity = 1, wide = WIDE): Body {
  const alpha = new Float32Array(SIZE.width * SIZE.height);
  const length = Math.hypot(FOOT[0], FOOT[2]);
  const across: Vector3 = [FOOT[2] / length, 0, -FOOT[0] / length];
  for (let y = 0; y < SIZE.height; y++) {
    for (let x = 0; x < SIZE.width; x++) {
      // where the ray of a px passes the board's plane
      const ray = CAMERA.rayOf(x, y);
      const t = length ** 2 / (ray[0] * FOOT[0] + ray[2] * FOOT[2]);
      const [u, h] = [t * (ray[0] * across[0] + ray[2] * across[2]) - (FOOT[0] * across[0] + FOOT[2] * across[2]), CAMERA.heightM + t * ray[1]];
      if (Math.abs(u) < wide / 2 && h > 0 && h < TALL) alpha[y * SIZE.width + x] = opacity;
    }
  }
  const [extent, volume] = [extentOf(alpha, SIZE.width, SIZE.height), volumeOf(alpha, SIZE.width, SIZE.height)];
  return { alpha, ...SIZE, extent, volume, feet: null, toSamples: [1, 0, 0, 0, 1, 0, 0, 0, 1], depth };
}

const most = (values: Float32Array) => values.reduce((a, b) => Math.max(a, b), 0);
const light = (azimuthDeg: number, elevationDeg: number) => directionOf(azimuthDeg, elevationDeg);
const shadowOf = (body: Body, towards: Vector3, sourceDeg: number) => castShadow(new Scenery(CAMERA), FOOT, body, discDirections(towards, sourceDeg), 0, ALL);

/** Coverage at a place on the ground. */
function at(values: Float32Array, x: number, z: number): number {
  const [u, v] = CAMERA.pixelOf([x, 0, z])!;
  return values[Math.round(v) * SIZE.width + Math.round(u)];
}

it.each([
  [40, 35],
  [-60, 50],
  [150, 30],
  [-125, 60],
])("the shadow of a board under a light from %d°, %d° high, lies where it falls", (azimuthDeg, elevationDeg) => {
  const d = light(azimuthDeg, elevationDeg);
  const values = shadowOf(board(1), d, 0.01);
  const level = Math.hypot(d[0], d[2]);
  const [mx, mz] = [d[0] / level, d[2] / level];
  let [both, either] = [0, 0];
  for (let y = 0; y < SIZE.height; y++) {
    for (let x = 0; x < SIZE.width; x++) {
      const place = CAMERA.placeAt(x, y);
      // what is round throws the discs of all its heights, one beside the other; its front stands on the foot, its middle half of its width behind
      const behind = 1 + WIDE / 2 / Math.hypot(FOOT[0], FOOT[2]);
      const [dx, dz] = place ? [place[0] - behind * FOOT[0], place[2] - behind * FOOT[2]] : [0, 0];
      const along = Math.min((TALL * level) / d[1], Math.max(0, -(dx * mx + dz * mz)));
      const isThere = place !== null && Math.hypot(dx + along * mx, dz + along * mz) < WIDE / 2;
      const isFound = values[y * SIZE.width + x] > 0.5;
      if (isThere && isFound) both++;
      if (isThere || isFound) either++;
    }
  }
  expect(either).toBeGreaterThan(1000);
  expect(both / either).toBeGreaterThan(0.96);
});

it("a flat thing seen from its side by the light throws a narrow shadow, a round one a wide one", () => {
  const sum = (values: Float32Array) => values.reduce((a, b) => a + b, 0);
  const side = light(90, 45);
  const [flat, round] = [0.1, 1].map((depth) => sum(shadowOf(board(depth), side, 0.01)));
  expect(flat / round).toBeGreaterThan(0.07);
  expect(flat / round).toBeLessThan(0.16);
});

it.each([0.3, 0.6, 0.9])("its border grows softer with the distance: at %d of its length as the disc of the light is wide from there", (share) => {
  const [sourceDeg, elevationDeg] = [4, 40];
  // from behind, so that the shadow comes towards the camera; a wide board has borders that do not meet
  const values = shadowOf(board(0.02, 1, 1.6), light(0, elevationDeg), sourceDeg);
  const length = TALL / Math.tan((elevationDeg * Math.PI) / 180);
  const z = FOOT[2] - share * length;
  const distance = (share * length) / Math.cos((elevationDeg * Math.PI) / 180);
  const crossing = (level: number) => {
    for (let x = FOOT[0] + 0.3; x < FOOT[0] + 1.5; x += 0.002) if (at(values, x, z) < level) return x;
    return NaN;
  };
  // a disc that slides behind an edge is 10 % and 90 % hidden 0.687 of its width apart (from the circle's segment, solved by hand)
  const wanted = 0.687 * 2 * distance * Math.tan((sourceDeg * Math.PI) / 360);
  const found = crossing(0.1) - crossing(0.9);
  expect(found / wanted).toBeGreaterThan(0.75);
  expect(found / wanted).toBeLessThan(1.3);
});

it("what is partly there throws a part of a shadow, and nothing throws one on the sky", () => {
  const values = shadowOf(board(1, 0.4), light(20, 40), 0.5);
  expect(most(values)).toBeCloseTo(0.4, 5);
  for (let x = 0; x < SIZE.width; x++) expect(values[x]).toBe(0);
});

it("a light under the ground throws none", () => {
  expect(most(shadowOf(board(1), light(20, -5), 0.5))).toBe(0);
});

it("under the sky alone it is dark only where the thing stands close", () => {
  const values = castShadow(new Scenery(CAMERA), FOOT, board(1), skyDirections(), 0, ALL);
  const [near, off, far] = [0.05, 0.5, 2].map((by) => at(values, FOOT[0], FOOT[2] - by));
  // close to a wall half of the sky is hidden
  expect(near).toBeGreaterThan(0.25);
  expect(near).toBeLessThan(0.6);
  expect(off).toBeLessThan(near);
  expect(far).toBeLessThan(0.05);
});

it("a coarser level shows the same, and so does a rectangle of it", () => {
  const body = board(1);
  const d = discDirections(light(40, 35), 1);
  const fine = castShadow(new Scenery(CAMERA), FOOT, body, d, 0, ALL);
  const coarse = castShadow(new Scenery(CAMERA), FOOT, body, d, 1, { x: 0, y: 0, width: 450, height: 300 });
  let [off, some] = [0, 0];
  for (let y = 0; y < 300; y++) {
    for (let x = 0; x < 450; x++) {
      const mean = [0, 1].flatMap((j) => [0, 1].map((i) => fine[(2 * y + j) * 900 + 2 * x + i])).reduce((a, b) => a + b, 0) / 4;
      if (mean > 0) some++;
      if (Math.abs(mean - coarse[y * 450 + x]) > 0.2) off++;
    }
  }
  // but where a border is narrower than a sample of the level
  expect(off / some).toBeLessThan(0.03);
  const part = castShadow(new Scenery(CAMERA), FOOT, body, d, 0, { x: 300, y: 250, width: 200, height: 150 });
  for (const [x, y] of [
    [0, 0],
    [57, 90],
    [199, 149],
  ])
    expect(part[y * 200 + x]).toBe(fine[(250 + y) * 900 + 300 + x]);
});

it("px of the plate lead to samples of what was placed on it", () => {
  // twice as large and shifted; level 1, from the sample (3, 4) of that
  const m = samplesOf([2, 0, 10, 0, 2, 20, 0, 0, 1], 1, { x: 3, y: 4, width: 9, height: 9 });
  const to = (x: number, y: number) => [m[0] * x + m[1] * y + m[2], m[3] * x + m[4] * y + m[5]].map((v) => v / m[8]);
  // px 30 of the plate is px 10 of the thing, which is sample (10 + 0.5) / 2 − 0.5 of level 1
  expect(to(30, 60)[0]).toBeCloseTo(10.5 / 2 - 0.5 - 3, 9);
  expect(to(30, 60)[1]).toBeCloseTo(20.5 / 2 - 0.5 - 4, 9);
});

describe("by a lamp near by", () => {
  const thrown = (lamp: Vector3, rect = ALL) => castShadow(new Scenery(CAMERA), FOOT, board(0.2), lampPlaces(lamp, 0.005, FOOT), 0, rect);

  // similar triangles: from a lamp at a height, over the top of what stands, to the ground
  it("ends where the line from the lamp over the top meets the ground", () => {
    const lamp: Vector3 = [FOOT[0] - 1, 2.6, FOOT[2] + 1.5];
    const values = thrown(lamp);
    const reach = lamp[1] / (lamp[1] - TALL);
    const tip = [lamp[0] + reach * (FOOT[0] - lamp[0]), lamp[2] + reach * (FOOT[2] - lamp[2])];
    const on = (share: number) => at(values, FOOT[0] + share * (tip[0] - FOOT[0]), FOOT[2] + share * (tip[1] - FOOT[2]));
    expect(on(0.85)).toBeGreaterThan(0.9);
    expect(on(1.15)).toBe(0);
    expect(on(-0.3)).toBe(0);
  });

  it("is the same in every rectangle, and falls anywhere under a lamp that is lower than its top", () => {
    for (const height of [2.6, 0.7]) {
      const lamp: Vector3 = [FOOT[0] - 0.8, height, FOOT[2] - 0.9];
      const all = thrown(lamp);
      expect(most(all)).toBeGreaterThan(0.9);
      for (const rect of [
        { x: 300, y: 200, width: 200, height: 120 },
        { x: 500, y: 0, width: 400, height: 600 },
      ]) {
        const part = thrown(lamp, rect);
        let off = 0;
        for (let j = 0; j < rect.height; j++)
          for (let i = 0; i < rect.width; i++) off = Math.max(off, Math.abs(part[j * rect.width + i] - all[(rect.y + j) * SIZE.width + rect.x + i]));
        expect(off).toBe(0);
      }
    }
    // further off than a lamp can be told from a direction it is one
    const towards = light(50, 40);
    const far: Vector3 = [FOOT[0] + 1e5 * towards[0], 1e5 * towards[1], FOOT[2] + 1e5 * towards[2]];
    const [by, sun] = [
      castShadow(new Scenery(CAMERA), FOOT, board(0.2), lampPlaces(far, 1e5 * Math.tan((0.5 * Math.PI) / 180), FOOT), 0, ALL),
      shadowOf(board(0.2), towards, 1),
    ];
    expect(by.reduce((sum, v, i) => sum + Math.abs(v - sun[i]), 0)).toBeLessThan(0.02 * sun.reduce((sum, v) => sum + v, 0));
  });
});
