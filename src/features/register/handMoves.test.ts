import { IDENTITY, project } from "../../core/geometry/matrix3";
import { cornersOf, shifted, turned, withCorner } from "./handMoves";

const size = { width: 401, height: 301 };

it("a shift moves every place alike", () => {
  expect(project(shifted(IDENTITY, 3, -2), 10, 20)).toEqual([13, 18]);
});

it("a turn is clockwise on the screen and keeps its centre", () => {
  const m = turned(IDENTITY, 90, 1, 100, 50);
  expect(project(m, 100, 50).map((v) => v.toFixed(9))).toEqual(["100.000000000", "50.000000000"]);
  const [x, y] = project(m, 110, 50);
  expect(x).toBeCloseTo(100, 9);
  expect(y).toBeCloseTo(60, 9);
});

it("a corner goes where it is put and the others stay", () => {
  const before = cornersOf(IDENTITY, size);
  const after = cornersOf(withCorner(IDENTITY, size, 1, 420, -15), size);
  expect(after[1][0]).toBeCloseTo(420, 4);
  expect(after[1][1]).toBeCloseTo(-15, 4);
  for (const i of [0, 2, 3]) {
    expect(after[i][0]).toBeCloseTo(before[i][0], 4);
    expect(after[i][1]).toBeCloseTo(before[i][1], 4);
  }
});
