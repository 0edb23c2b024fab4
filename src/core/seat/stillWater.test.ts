import { GroundCamera } from "./groundCamera";
import { stillPx, stillReach } from "./stillWater";

const size = { width: 1200, height: 800 };
const level = (heightM: number) => new GroundCamera(size, { pitchDeg: 0, rollDeg: 0, focalPx: 900 }, heightM);

// similar triangles of a level camera: a patch of length L at distance d, seen from a height h, spans f·h·L/d² down and f·L/d across; a box has L/√12 of deviation
it.each([3, 8, 25])("smears by a patch of the surface as it is seen %p m away", (away) => {
  const [f, h] = [900, 1.6];
  const y = 399.5 + (f * h) / away;
  const { down, across } = stillPx(level(h), 0, 599.5, y, { lengthM: 0.5, widthM: 0.2, mostPx: 1e6 });
  expect(down / ((f * h * 0.5) / away ** 2 / Math.sqrt(12))).toBeCloseTo(1, 1);
  expect(across / ((f * 0.2) / away / Math.sqrt(12))).toBeCloseTo(1, 3);
});

it("takes the height of the water into account, goes no further than said, and smears nothing above the horizon", () => {
  const patch = { lengthM: 1, widthM: 1, mostPx: 1e6 };
  const low = stillPx(level(1.6), -0.4, 599.5, 700, patch);
  const same = stillPx(level(2), 0, 599.5, 700, patch);
  expect(low.down).toBeCloseTo(same.down, 6);
  expect(low.across).toBeCloseTo(same.across, 6);
  expect(stillPx(level(1.6), 0, 599.5, 799, { lengthM: 50, widthM: 50, mostPx: 12 })).toEqual({ down: 12, across: 12 });
  expect(stillPx(level(1.6), 0, 599.5, 300, patch)).toEqual({ down: 0, across: 0 });
  expect(stillReach({ mostPx: 40 }, 0)).toBeGreaterThan(40);
  expect(stillReach({ mostPx: 40 }, 3)).toBeLessThan(40);
});
