/** Balls whose shading is known in closed form. */
import { randomOf } from "../../../tests/support/kernels";
import { dot, unit, type Vector3 } from "../panorama/camera";
import { ballLight } from "./ballLight";
import { GroundCamera } from "./groundCamera";
import { directionOf, lightsApartDeg } from "./lightFromShadows";

const CAMERA = new GroundCamera({ width: 1200, height: 800 }, { pitchDeg: -9, rollDeg: 3, focalPx: 1100 }, 1.6);
const CENTRE: Vector3 = [-1.2, 0.4, 5];
const RADIUS_M = 0.3;

/** The light of a px that shows a ball: where its ray meets it, by the quadratic equation. */
function shading(light: { azimuthDeg: number; elevationDeg: number }, even: number, colour: (at: Vector3) => number = () => 1, noise = 0.02) {
  const towards = directionOf(light.azimuthDeg, light.elevationDeg);
  const random = randomOf(5);
  return (x: number, y: number): number => {
    const ray = unit(CAMERA.rayOf(x, y));
    const from: Vector3 = [-CENTRE[0], CAMERA.heightM - CENTRE[1], -CENTRE[2]];
    const half = dot(ray, from);
    const root = half * half - dot(from, from) + RADIUS_M ** 2;
    if (root < 0) return 0.4;
    const t = -half - Math.sqrt(root);
    const normal = [0, 1, 2].map((k) => (from[k] + t * ray[k]) / RADIUS_M) as Vector3;
    return colour(normal) * (Math.max(0, dot(normal, towards)) + even) * (1 + noise * (random() - 0.5));
  };
}

const middle = CAMERA.pixelOf(CENTRE)!;
const distance = Math.hypot(CENTRE[0], CENTRE[1] - CAMERA.heightM, CENTRE[2]);
/** Px from its middle to its rim, about. */
const radius = (1100 * RADIUS_M) / distance;

test.each([
  [60, 35],
  [-120, 25],
  [10, 50],
  [170, 60],
])("a light from %d°, %d° high is told by the ball it shades", (azimuthDeg, elevationDeg) => {
  const told = ballLight(CAMERA, middle, radius, shading({ azimuthDeg, elevationDeg }, 0.25));
  expect(told).not.toBeNull();
  expect(lightsApartDeg(told as Exclude<typeof told, null | "even">, { azimuthDeg, elevationDeg })).toBeLessThan(4);
});

test("stains and a glint turn it by less than it says", () => {
  const light = { azimuthDeg: 75, elevationDeg: 40 };
  const stained = (n: Vector3) => (n[0] > 0.3 && n[1] > 0.2 && n[1] < 0.5 ? 0.6 : n[0] > 0.5 && n[1] > 0.55 ? 2 : 1);
  const told = ballLight(CAMERA, middle, radius, shading(light, 0.25, stained));
  expect(told).not.toBeNull();
  const { sigmaDeg, ...direction } = told as Exclude<typeof told, null | "even">;
  expect(lightsApartDeg(direction, light)).toBeLessThan(Math.max(4, 2.5 * sigmaDeg));
});

test("an even light has no side, one from below is none of a plate's, and a few px tell nothing", () => {
  expect(ballLight(CAMERA, middle, radius, () => 0.5)).toBe("even");
  expect(ballLight(CAMERA, middle, radius, shading({ azimuthDeg: 40, elevationDeg: -50 }, 0.2))).toBeNull();
  expect(ballLight(CAMERA, middle, 4, shading({ azimuthDeg: 40, elevationDeg: 30 }, 0.2))).toBeNull();
});
