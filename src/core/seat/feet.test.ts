/** Things on two feet, one of them further off: their plane runs through both, and so does their shadow. */
import type { Vector3 } from "../panorama/camera";
import { castShadow, discDirections } from "./castShadow";
import { twoFeet } from "./feet";
import { GroundCamera } from "./groundCamera";
import { directionOf } from "./lightFromShadows";
import { Scenery } from "./scenery";
import type { Body } from "./standing";
import { extentOf, volumeOf } from "./volume";

const SIZE = { width: 900, height: 600 };
const CAMERA = new GroundCamera(SIZE, { pitchDeg: -12, rollDeg: 0, focalPx: 900 }, 2);
const [LEFT, RIGHT]: Vector3[] = [
  [-0.4, 0, 6.15],
  [0.4, 0, 5.85],
];
const FOOT: Vector3 = [0, 0, 6];

/** A gate: two posts, 1 m high and 0.12 m wide, and a bar over both, as the plate shows it. */
function gate(): Float32Array {
  const alpha = new Float32Array(SIZE.width * SIZE.height);
  const apart = Math.hypot(RIGHT[0] - LEFT[0], RIGHT[2] - LEFT[2]);
  const along: Vector3 = [(RIGHT[0] - LEFT[0]) / apart, 0, (RIGHT[2] - LEFT[2]) / apart];
  const normal: Vector3 = [-along[2], 0, along[0]];
  for (let y = 0; y < SIZE.height; y++) {
    for (let x = 0; x < SIZE.width; x++) {
      const ray = CAMERA.rayOf(x, y);
      const t = (normal[0] * LEFT[0] + normal[2] * LEFT[2]) / (normal[0] * ray[0] + normal[2] * ray[2]);
      const [u, h] = [(t * ray[0] - LEFT[0]) * along[0] + (t * ray[2] - LEFT[2]) * along[2], CAMERA.heightM + t * ray[1]];
      const isPost = Math.abs(u) < 0.06 || Math.abs(u - apart) < 0.06;
      if (t > 0 && h > 0 && h < 1 && u > -0.06 && u < apart + 0.06 && (isPost || h > 0.9)) alpha[y * SIZE.width + x] = 1;
    }
  }
  return alpha;
}

const alpha = gate();
const extent = extentOf(alpha, SIZE.width, SIZE.height);
const body = (feet: Body["feet"]): Body => ({
  ...{ alpha, ...SIZE, extent, feet, depth: 0.3 },
  volume: volumeOf(alpha, SIZE.width, SIZE.height),
  toSamples: [1, 0, 0, 0, 1, 0, 0, 0, 1],
});

test("both feet are found where they touch the ground", () => {
  const found = twoFeet(alpha, SIZE.width, extent)!;
  [LEFT, RIGHT].forEach((foot, i) => {
    const [x, y] = CAMERA.pixelOf(foot)!;
    expect(Math.hypot(found[i][0] - x, found[i][1] - y)).toBeLessThan(2.5);
  });
});

test("the shadow of each falls from where it stands", () => {
  const towards = directionOf(90, 40);
  const cast = (feet: Body["feet"]) => castShadow(new Scenery(CAMERA), FOOT, body(feet), discDirections(towards, 0.3), 0, { x: 0, y: 0, ...SIZE });
  const known = cast(twoFeet(alpha, SIZE.width, extent));
  const facing = cast(null);
  // halfway along the shadow of a post, which falls straight to the left
  const at = (values: Float32Array, foot: Vector3) => {
    const [x, y] = CAMERA.pixelOf([foot[0] - 0.5 / Math.tan((40 * Math.PI) / 180), 0, foot[2]])!;
    return values[Math.round(y) * SIZE.width + Math.round(x)];
  };
  for (const foot of [LEFT, RIGHT]) expect(at(known, foot)).toBeGreaterThan(0.8);
  expect(at(facing, RIGHT)).toBeLessThan(0.2);
  // left for right it is the same
  const [left, right] = twoFeet(alpha, SIZE.width, extent)!;
  expect(cast([right, left])).toEqual(known);
});

test("one foot, three, or a rim along the ground are not two", () => {
  const drawn = (...feet: [number, number][]) => {
    const plane = new Float32Array(100 * 100);
    for (let y = 10; y < 80; y++) for (let x = 10; x < 90; x++) plane[y * 100 + x] = 1;
    for (const [from, to] of feet) for (let y = 80; y < 95; y++) for (let x = from; x < to; x++) plane[y * 100 + x] = 1;
    return twoFeet(plane, 100, extentOf(plane, 100, 100));
  };
  expect(drawn([40, 60])).toBeNull();
  expect(drawn([12, 20], [45, 52], [80, 88])).toBeNull();
  expect(drawn()).toBeNull();
  expect(drawn([12, 20], [80, 88])).toEqual([
    [15.5, 94.5],
    [83.5, 94.5],
  ]);
  expect(twoFeet(new Float32Array(100), 10, null)).toBeNull();
});
