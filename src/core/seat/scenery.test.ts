/** Surfaces over the ground of a plate, and shadows on them, where geometry on paper has them. */
import type { Vector3 } from "../panorama/camera";
import { castShadow, discDirections } from "./castShadow";
import { GroundCamera } from "./groundCamera";
import { directionOf } from "./lightFromShadows";
import { Scenery, type Surface } from "./scenery";
import type { Body } from "./standing";
import { extentOf, volumeOf } from "./volume";

const SIZE = { width: 900, height: 600 };
const CAMERA = new GroundCamera(SIZE, { pitchDeg: -10, rollDeg: 2, focalPx: 800 }, 2);
const ALL = { x: 0, y: 0, ...SIZE };
const px = (place: Vector3) => CAMERA.pixelOf(place)!;

const wall = (z: number, heightM = 2): Surface => ({ id: "w", is: "wall", places: [px([-3, 0, z]), px([3, 0, z])], heightM });
const level = (is: "raised" | "water", heightM: number, near: number, far: number): Surface => ({
  ...{ id: is, is, heightM },
  places: [px([-2, heightM, near]), px([2, heightM, near]), px([2, heightM, far]), px([-2, heightM, far])],
});

describe("what a px shows", () => {
  const scenery = new Scenery(CAMERA, [wall(7), level("raised", 0.4, 5, 6)]);
  const placeAt = (place: Vector3) => scenery.at(...px(place))!;

  test("is the wall where one stands, and the ground before it", () => {
    const on = placeAt([0.5, 1.2, 7]);
    expect(on.stood?.surface.is).toBe("wall");
    on.place.forEach((v, k) => expect(v).toBeCloseTo([0.5, 1.2, 7][k], 6));
    expect(placeAt([0.5, 0, 4])).toMatchObject({ stood: null });
  });

  test("is what is raised before what is behind it", () => {
    const on = placeAt([1, 0.4, 5.5]);
    expect(on.stood?.surface.is).toBe("raised");
    on.place.forEach((v, k) => expect(v).toBeCloseTo([1, 0.4, 5.5][k], 6));
  });

  test("carries a foot where it is level, and not up a wall", () => {
    expect(scenery.footAt(...px([1, 0.4, 5.5]))![1]).toBeCloseTo(0.4, 9);
    expect(scenery.footAt(...px([0.5, 0.6, 7]))![1]).toBe(0);
    expect(scenery.footAt(450, 10)).toBeNull();
  });

  test("is the ground where a surface cannot be: over the camera, or its foot in the sky", () => {
    const none = new Scenery(CAMERA, [
      level("raised", 2.5, 5, 6),
      {
        id: "s",
        is: "wall",
        places: [
          [100, 5],
          [300, 5],
        ],
        heightM: 2,
      },
    ]);
    expect(none.stood).toHaveLength(0);
  });
});

/** A board that faces the camera and stands at a foot, drawn as its own picture. */
function board(foot: Vector3, wide: number, tall: number): Body {
  const alpha = new Float32Array(SIZE.width * SIZE.height);
  for (let y = 0; y < SIZE.height; y++) {
    for (let x = 0; x < SIZE.width; x++) {
      const ray = CAMERA.rayOf(x, y);
      const t = foot[2] / ray[2];
      const [u, h] = [t * ray[0] - foot[0], CAMERA.heightM + t * ray[1] - foot[1]];
      if (Math.abs(u) < wide / 2 && h > 0 && h < tall) alpha[y * SIZE.width + x] = 1;
    }
  }
  const [extent, volume] = [extentOf(alpha, SIZE.width, SIZE.height), volumeOf(alpha, SIZE.width, SIZE.height)];
  return { alpha, ...SIZE, extent, volume, feet: null, toSamples: [1, 0, 0, 0, 1, 0, 0, 0, 1], depth: 0.02 };
}

describe("the shadow of a board, 1.2 m tall, under a light from behind the camera, 30° high", () => {
  const FOOT: Vector3 = [0, 0, 6];
  const FALLS = Math.tan(Math.PI / 6);
  const lit = discDirections(directionOf(180, 30), 0.05);
  const cast = (surfaces: Surface[], foot = FOOT) => castShadow(new Scenery(CAMERA, surfaces), foot, board(foot, 0.8, 1.2), lit, 0, ALL);
  const at = (values: Float32Array, place: Vector3) => {
    const [x, y] = px(place).map(Math.round);
    return values[y * SIZE.width + x];
  };

  test("breaks at a wall a metre behind it and ends there at 1.2 m − 1 m · tan 30°", () => {
    const values = cast([wall(7)]);
    const top = 1.2 - FALLS;
    expect(at(values, [0.1, top - 0.06, 7])).toBeCloseTo(1, 1);
    expect(at(values, [0.1, top + 0.06, 7])).toBe(0);
    expect(at(values, [0.1, 0, 6.6])).toBeCloseTo(1, 1);
    expect(at(values, [0.5, top - 0.2, 7])).toBe(0);
  });

  test("is shorter on what is raised, and displaced there", () => {
    const values = cast([level("raised", 0.4, 6.4, 8.5)]);
    const end = 6 + (1.2 - 0.4) / FALLS;
    expect(at(values, [0.1, 0.4, end - 0.08])).toBeCloseTo(1, 1);
    expect(at(values, [0.1, 0.4, end + 0.08])).toBe(0);
  });

  test("begins at its foot on a table, and goes on under that on the ground", () => {
    // the table ends 0.5 m behind the board, the ground under it is seen beyond 1.5 m
    const values = cast([level("raised", 0.4, 5.5, 6.5)], [0, 0.4, 6]);
    expect(at(values, [0.1, 0.4, 6.3])).toBeCloseTo(1, 1);
    const end = 6 + (1.2 + 0.4) / FALLS;
    expect(at(values, [0.1, 0, end - 0.15])).toBeCloseTo(1, 1);
    expect(at(values, [0.1, 0, end + 0.15])).toBe(0);
  });

  test("darkens no wall that faces away from the light", () => {
    const from = discDirections(directionOf(0, 30), 0.05);
    const before = castShadow(new Scenery(CAMERA, [wall(5.5)]), FOOT, board(FOOT, 0.8, 1.2), from, 0, ALL);
    expect(at(before, [0.1, 0.3, 5.5])).toBe(0);
  });
});
