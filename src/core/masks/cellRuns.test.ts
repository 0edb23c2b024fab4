import fc from "fast-check";
import {
  countCells,
  fillCells,
  fillPixels,
  hasCell,
  filledPath,
  outlineOf,
  runBounds,
  runRectangle,
  runsOf,
  runsOfStroke,
  sharedCells,
  subtractRuns,
  uniteRuns,
} from "./cellRuns";

const area = { x: 0, y: 0, width: 12, height: 9 };
const grids = fc.array(fc.boolean(), { minLength: 108, maxLength: 108 });
const cells = (runs: number[]) => [...fillCells(runs, area)];

it("runs hold the cells they were made from", () => {
  fc.assert(
    fc.property(grids, (on) => {
      const runs = runsOf(on, 12, 9);
      expect(cells(runs)).toEqual(on.map(Number));
      expect(countCells(runs)).toBe(on.filter(Boolean).length);
      expect(hasCell(runs, 3, 4)).toBe(on[4 * 12 + 3]);
    }),
  );
});

it("uniting and taking away are those of sets", () => {
  fc.assert(
    fc.property(grids, grids, (p, q) => {
      const [a, b] = [runsOf(p, 12, 9), runsOf(q, 12, 9)];
      expect(cells(uniteRuns(a, b))).toEqual(p.map((v, i) => Number(v || q[i])));
      expect(cells(subtractRuns(a, b))).toEqual(p.map((v, i) => Number(v && !q[i])));
      expect(sharedCells(a, b)).toBe(p.filter((v, i) => v && q[i]).length);
    }),
  );
});

it("a stroke covers its round ends and what lies between, and stays in the picture", () => {
  const runs = runsOfStroke([40, 40, 1, 120, 40, 1], 40, 4, { width: 200, height: 100 });
  expect(runBounds(runs)).toEqual({ x: 5, y: 5, width: 30, height: 10 });
  // a stadium of length 80 and radius 20, in cells of 16 square px
  expect(Math.abs(countCells(runs) * 16 - (80 * 40 + Math.PI * 400))).toBeLessThan(160);
  const out = runsOfStroke([-10, -10, 1, 5, 5, 1], 60, 4, { width: 20, height: 20 });
  expect(runBounds(out)).toEqual({ x: 0, y: 0, width: 5, height: 5 });
  expect(runsOfStroke([500, 500, 1], 10, 4, { width: 20, height: 20 })).toEqual([]);
});

it("an outline goes once around", () => {
  expect(outlineOf([2, 1, 3])).toBe("M1 2H3M1 3H3M1 2V3M3 2V3");
  expect(outlineOf([])).toBe("");
  // filled: a box for every run
  expect(filledPath([2, 1, 3, 4, 0, 1])).toBe("M1 2H3v1H1zM0 4H1v1H0z");
});

it("px of an area that begins inside a cell, and the bounds in px", () => {
  const runs = [1, 1, 3, 2, 2, 3];
  expect(runRectangle(runs, 4)).toEqual({ x: 4, y: 4, width: 8, height: 8 });
  const part = { x: 6, y: 5, width: 8, height: 6 };
  const wanted = Array.from({ length: 48 }, (_, i) => Number(hasCell(runs, Math.floor((6 + (i % 8)) / 4), Math.floor((5 + Math.floor(i / 8)) / 4))));
  expect([...fillPixels(runs, 4, part)]).toEqual(wanted);
});
