import { GroundCamera } from "../seat/groundCamera";
import { fresnel } from "../seat/water";
import { lampPlace, type Lamp } from "./lamp";
import { lampInWater, lightOfLamp, shinesEv } from "./lampInWater";

const camera = new GroundCamera({ width: 1200, height: 800 }, { pitchDeg: 0, rollDeg: 0, focalPx: 900 }, 1.6);
const lamp = (given: Partial<Lamp> = {}): Lamp => ({ id: "l", is: "lamp", x: 600, y: 330, distanceM: 12, wide: 0.3, ev: 2, color: [1, 1, 1], ...given });

// E = L·Ω: what shines gives a white surface a metre away π·L·(radius)², of which that throws back a π-th to each side
it("shines by itself as much as it gives by how large it is seen", () => {
  expect(lightOfLamp({ ev: 0, wide: 2, distanceM: 5 })).toBeCloseTo(1, 9);
  expect(lightOfLamp({ ev: 3, wide: 0.2, distanceM: 5 })).toBeCloseTo(800, 6);
  expect(lightOfLamp({ ev: 0, wide: 180, distanceM: null })).toBeCloseTo(1, 9);
  expect(shinesEv(lamp({ ev: 0, wide: 1 }))).toBeCloseTo(2, 9);
  expect(shinesEv(lamp({ is: "moon", ev: -3, wide: 0.5, distanceM: null }))).toBe(0);
  expect(shinesEv(lamp({ ev: 9 }))).toBeLessThan(9);
});

it("stands in still water as far below it as over it, as Fresnel has it", () => {
  const place = lampPlace(camera, lamp())!;
  const road = lampInWater(camera, lamp(), 0, 0, 3)!;
  const [mx, my] = camera.pixelOf([place[0], -place[1], place[2]])!;
  let [best, where] = [0, [0, 0]];
  let sum = 0;
  for (let y = 400; y < 800; y++) {
    for (let x = 500; x < 700; x++) {
      const light = road(x, y);
      sum += light;
      if (light > best) [best, where] = [light, [x, y]];
    }
  }
  expect(Math.abs(where[0] - mx)).toBeLessThanOrEqual(1);
  expect(Math.abs(where[1] - my)).toBeLessThanOrEqual(1);
  // all of its disc, px for px
  const radius = (0.15 / Math.hypot(12, place[1] - 1.6)) * 900;
  const ray = camera.rayOf(mx, my);
  const cosine = -ray[1] / Math.hypot(...ray);
  expect(sum / (8 * Math.PI * radius ** 2 * fresnel(cosine))).toBeCloseTo(1, 1);
});

it("ripples draw it out towards the camera more than aside, and keep its light", () => {
  const road = lampInWater(camera, lamp(), 0, 0.03, 3)!;
  let [sum, sx, sy, sxx, syy] = [0, 0, 0, 0, 0];
  for (let y = 400; y < 800; y++) {
    for (let x = 400; x < 800; x++) {
      const light = road(x, y);
      sum += light;
      sx += light * x;
      sy += light * y;
      sxx += light * x * x;
      syy += light * y * y;
    }
  }
  const [wide, tall] = [Math.sqrt(sxx / sum - (sx / sum) ** 2), Math.sqrt(syy / sum - (sy / sum) ** 2)];
  expect(tall).toBeGreaterThan(2.5 * wide);
  // nothing behind the lamp mirrors it to the camera
  expect(road(600, 399.5 + (900 * 1.6) / 13)).toBe(0);
});

it("mirrors what is as far as the moon by its direction alone, and nothing that is under the water or under the horizon", () => {
  const moon = lamp({ is: "moon", distanceM: null, wide: 0.53, y: 250 });
  const road = lampInWater(camera, moon, 0, 0.01, 3)!;
  const other = lampInWater(new GroundCamera(camera.size, camera.stance, 5), moon, 0, 0.01, 3)!;
  expect(road(600, 549)).toBeCloseTo(other(600, 549), 6);
  expect(road(600, 549)).toBeGreaterThan(road(600, 620));
  expect(lampInWater(camera, lamp({ is: "moon", distanceM: null, y: 500 }), 0, 0.01, 3)).toBeNull();
  expect(lampInWater(camera, lamp({ y: 600, distanceM: 12 }), 0, 0.01, 3)).toBeNull();
  expect(road(600, 300)).toBe(0);
});
