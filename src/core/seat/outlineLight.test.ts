/** Things whose shading is known in closed form. */
import { randomOf } from "../../../tests/support/kernels";
import { lightInPicture, outlineLight, sidesEv, strengthThere, turn } from "./outlineLight";

const SIDE = 200;
const random = randomOf(4);

/** A ball of one colour under a light from a direction and an even one. @param towards x right, y up, z towards the camera */
function ball(towards: [number, number, number], even: number, colour: (x: number, y: number) => number = () => 1) {
  const [alpha, light] = [new Float32Array(SIDE * SIDE), new Float32Array(SIDE * SIDE)];
  const radius = 80;
  for (let y = 0; y < SIDE; y++) {
    for (let x = 0; x < SIDE; x++) {
      const [u, v] = [(x - 99.5) / radius, (99.5 - y) / radius];
      const r2 = u * u + v * v;
      alpha[y * SIDE + x] = Math.min(1, Math.max(0, (1 - Math.sqrt(r2)) * radius + 0.5));
      const z = Math.sqrt(Math.max(0, 1 - r2));
      const lit = Math.max(0, u * towards[0] + v * towards[1] + z * towards[2]);
      light[y * SIDE + x] = colour(x, y) * (lit + even) * (1 + 0.05 * (random() - 0.5));
    }
  }
  return outlineLight(alpha, light, SIDE, SIDE);
}

const side = (told: ReturnType<typeof ball>) => (told === "even" ? null : told);

it.each([20, 75, 130, -160, -40])("the light comes from %d°, where it does", (angle) => {
  const a = (angle * Math.PI) / 180;
  const told = side(ball([0.9 * Math.cos(a), 0.9 * Math.sin(a), 0.44], 0.3))!;
  expect(Math.abs(turn(angle, told.angleDeg))).toBeLessThan(6);
  expect(told.strength).toBeGreaterThan(0.5);
});

it("a thing of two colours is told less surely, and not wrongly beyond that", () => {
  const told = side(ball([0.8, 0.4, 0.44], 0.3, (x) => (x < 80 ? 0.5 : 1)));
  expect(told === null || Math.abs(turn(26.6, told.angleDeg)) < 2 * told.sigmaDeg).toBe(true);
});

it("an even light has no side, and nothing none either", () => {
  expect(ball([0, 0, 1], 0.5)).toBe("even");
  expect(ball([0, 0, 0], 1)).toBe("even");
  expect(outlineLight(new Float32Array(SIDE * SIDE), new Float32Array(SIDE * SIDE), SIDE, SIDE)).toBeNull();
});

it("the plate's light in the plane of the picture: from the right, from above, and along the view none", () => {
  const ahead: [number, number, number] = [0, 0, 5];
  expect(lightInPicture(ahead, { azimuthDeg: 90, elevationDeg: 0.001 })).toBeCloseTo(0, 2);
  expect(lightInPicture(ahead, { azimuthDeg: 90, elevationDeg: 45 })).toBeCloseTo(45, 6);
  expect(lightInPicture(ahead, { azimuthDeg: -90, elevationDeg: 30 })).toBeCloseTo(150, 6);
  expect(lightInPicture(ahead, { azimuthDeg: 10, elevationDeg: 10 })).toBeNull();
  // what stands to the side is seen from there
  expect(lightInPicture([5, 0, 5], { azimuthDeg: 135, elevationDeg: 45 })).toBeCloseTo(45, 6);
});

it("how strong a side is to be follows from light and shade on the ground: as a ball in that light shows it", () => {
  // the sun from the right, 45° high: on the ground light over shade is log2((even + sin 45°) / even); what is upright gets 0.7 of the even light
  const even = 0.25;
  const ratioEv = Math.log2((even + Math.SQRT1_2) / even);
  const told = side(ball([Math.SQRT1_2, Math.SQRT1_2, 0], 0.7 * even))!;
  const wanted = strengthThere([0, 0, 5], { azimuthDeg: 90, elevationDeg: 45 }, ratioEv);
  expect(told.strength / wanted).toBeGreaterThan(0.85);
  expect(told.strength / wanted).toBeLessThan(1.15);
  // the same sun low behind the camera: hardly a side
  const low = Math.log2((even + Math.sin(Math.PI / 18)) / even);
  expect(strengthThere([0, 0, 5], { azimuthDeg: 180, elevationDeg: 10 }, low)).toBeLessThan(wanted / 2);
});

it("the two sides of an outline are as far apart as their light", () => {
  // one side twice as bright as the other: (1 + s) / (1 − s) = 2
  expect(sidesEv(1 / 3)).toBeCloseTo(1, 9);
  expect(sidesEv(0)).toBe(0);
  expect(sidesEv(5)).toBeLessThan(6);
});
