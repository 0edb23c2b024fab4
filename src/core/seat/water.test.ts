/** Mirror images in water where optics and geometry on paper have them. */
import { project } from "../geometry/matrix3";
import type { Vector3 } from "../panorama/camera";
import { randomOf } from "../../../tests/support/kernels";
import { GroundCamera } from "./groundCamera";
import { smear } from "./smear";
import { fresnel, mirroredFar, mirroredIn, rippleSlope } from "./water";

const SIZE = { width: 900, height: 600 };
const RAD = Math.PI / 180;

// still water, both polarisations, n = 1.333; any optics handbook, from memory
test.each([
  [0, 0.0204],
  [60, 0.0598],
  [80, 0.348],
])("still water throws back its share of light at %d°", (degrees, share) => {
  expect(fresnel(Math.cos(degrees * RAD))).toBeCloseTo(share, 3);
});

test("and all of it along the surface", () => {
  expect(fresnel(0)).toBeCloseTo(1, 9);
});

describe("the mirror image of something upright", () => {
  test("lies as far under its foot as a ray on paper has it", () => {
    const camera = new GroundCamera(SIZE, { pitchDeg: 0, rollDeg: 0, focalPx: 800 }, 2);
    const foot: Vector3 = [1, 0, 8];
    const top = camera.pixelOf([1, 1.5, 8])!;
    const [x, y] = project(mirroredIn(camera, foot, 0), ...top);
    // level camera: 1.5 m under the water is seen f · (2 + 1.5) / 8 px under the horizon
    expect(x).toBeCloseTo(top[0], 6);
    expect(y).toBeCloseTo(299.5 + (800 * 3.5) / 8, 6);
  });

  test("of what stands on a bank begins further down", () => {
    const camera = new GroundCamera(SIZE, { pitchDeg: -8, rollDeg: 3, focalPx: 800 }, 2);
    const foot: Vector3 = [-1, 0, 9];
    const mirror = mirroredIn(camera, foot, -0.3);
    for (const height of [0, 0.7, 1.5]) {
      const found = project(mirror, ...camera.pixelOf([-1, height, 9])!);
      const wanted = camera.pixelOf([-1, -0.6 - height, 9])!;
      expect(Math.hypot(found[0] - wanted[0], found[1] - wanted[1])).toBeLessThan(1e-6);
    }
  });
});

describe("ripples", () => {
  const camera = new GroundCamera({ width: 900, height: 1200 }, { pitchDeg: 0, rollDeg: 0, focalPx: 900 }, 2.5);
  const SHORE_M = 30;
  const ROWS = 120;
  const edge = 599.5 + (900 * 2.5) / SHORE_M;
  const shareAt = (row: number) => 1 - (900 * 2.5) / (edge + row - 599.5) / SHORE_M;
  /** A shore of trees and what water shows of it: each px follows many rays, each thrown back by a slope of its own. */
  function shore(slope: number, seed: number): { above: Float64Array[]; below: Float64Array[] } {
    const random = randomOf(seed);
    const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    const above: Float64Array[] = [];
    const below: Float64Array[] = [];
    for (let c = 0; c < 12; c++) {
      const steps = Float64Array.from({ length: 400 }, () => 0.1 + random());
      const light = (metres: number) => steps[Math.min(399, Math.max(0, Math.floor(metres / 0.35)))];
      above.push(Float64Array.from({ length: ROWS }, (_, k) => light(2.5 - ((edge - 1 - k - 599.5) / 900) * SHORE_M)));
      below.push(
        Float64Array.from({ length: ROWS }, (_, k) => {
          const down = Math.atan((edge + k - 599.5) / 900);
          const distance = 2.5 / Math.tan(down);
          let sum = 0;
          for (let i = 0; i < 300; i++) sum += light((SHORE_M - distance) * Math.tan(down + 2 * slope * normal()));
          return 0.05 + (0.4 * sum) / 300;
        }),
      );
    }
    return { above, below };
  }

  test.each([0.006, 0.02, 0.04])("of a slope of %d are told by how softly the shore is mirrored", (slope) => {
    const { above, below } = shore(slope, 7);
    const found = rippleSlope(above, below, camera.stance.focalPx, shareAt)!;
    expect(found / slope).toBeGreaterThan(0.75);
    expect(found / slope).toBeLessThan(1.35);
  });

  test("are not told by water that shows something else", () => {
    const { above } = shore(0.01, 7);
    const { below } = shore(0.01, 8);
    expect(rippleSlope(above, below, camera.stance.focalPx, shareAt)).toBeNull();
    expect(rippleSlope([], [], camera.stance.focalPx, shareAt)).toBeNull();
  });
});

describe("a smear", () => {
  test("keeps the sum and has the deviation that was asked for", () => {
    const plane = new Float32Array(201);
    plane[100] = 1;
    smear(plane, 1, 201, "down", new Float64Array(201).fill(6));
    const sum = plane.reduce((a, b) => a + b, 0);
    const variance = plane.reduce((s, v, i) => s + v * (i - 100) ** 2, 0);
    expect(sum).toBeCloseTo(1, 5);
    expect(Math.sqrt(variance)).toBeCloseTo(6, 1);
  });

  test("goes across as each row has it, and leaves a row without one", () => {
    const plane = Float32Array.from([0, 0, 1, 0, 0, 0, 0, 1, 0, 0]);
    smear(plane, 5, 2, "across", [0, 2]);
    expect([...plane.subarray(0, 5)]).toEqual([0, 0, 1, 0, 0]);
    expect(plane[7]).toBeLessThan(0.5);
    expect(plane[5]).toBeGreaterThan(0.05);
  });
});

describe("what is as far away as the sky", () => {
  const camera = new GroundCamera({ width: 1200, height: 800 }, { pitchDeg: -7, rollDeg: 3, focalPx: 900 }, 1.7);

  // the law of reflection: a level mirror turns the height of a direction into its depth
  it("is mirrored as far under the horizon as it stands over it", () => {
    const mirror = mirroredFar(camera);
    for (const [x, y] of [
      [300, 80],
      [640, 20],
      [1100, 150],
    ]) {
      const [dx, dy, dz] = camera.rayOf(x, y);
      const [u, v] = project(mirror, x, y);
      const [ex, ey, ez] = camera.rayOf(u, v);
      const length = Math.hypot(dx, dy, dz) / Math.hypot(ex, ey, ez);
      expect(ex * length).toBeCloseTo(dx, 6);
      expect(ey * length).toBeCloseTo(-dy, 6);
      expect(ez * length).toBeCloseTo(dz, 6);
    }
  });

  it("is mirrored as something upright is that stands very far away", () => {
    const foot: [number, number, number] = [2e5, 0, 9e5];
    const [x, y] = camera.pixelOf([2e5, 1.2e5, 9e5])!;
    const [far, near] = [project(mirroredFar(camera), x, y), project(mirroredIn(camera, foot, 0), x, y)];
    expect(Math.hypot(far[0] - near[0], far[1] - near[1])).toBeLessThan(0.05);
  });
});
