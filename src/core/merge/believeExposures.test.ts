import { believeExposures } from "./believeExposures";

const MEASURED = [-4, -2, 0, 2, 4];

it.each([
  ["right notes", [-4, -2, 0, 2, 4], "yyyyy"],
  ["right notes, a curve that stretches what is measured by a third", [-3, -1.5, 0, 1.5, 3], "yyyyy"],
  ["the last 1 EV off, which a stretch would hide by half", [-4, -2, 0, 2, 3], "yyyyn"],
  ["one 1 EV off", [-4, -2, 0, 3, 4], "yyyny"],
  ["the reference off", [-4, -2, -1.5, 2, 4], "yynyy"],
  ["two off", [-4, -2, 0, 0, 0], "yyynn"],
  ["signs reversed", [4, 2, 0, -2, -4], "nnnnn"],
  ["all alike", [0, 0, 0, 0, 0], "nnnnn"],
  ["absurd", [-200, -100, 0, 100, 200], "nnnnn"],
])("%s", (_, told, wanted) => {
  const found = believeExposures(told, MEASURED, 2);
  expect(found.map((f) => (f.believed ? "y" : "n")).join("")).toBe(wanted);
  const stretch = wanted.includes("y") ? told[0] / MEASURED[0] : 1;
  found.forEach((f, i) => expect([f.told, f.ev]).toEqual([told[i], f.believed ? told[i] : stretch * MEASURED[i]]));
});

it("what notes and pixels are counted from makes no difference", () => {
  const told = [-4, -2, 0, 2, 3.5];
  const found = believeExposures(told, MEASURED, 2);
  expect(found[4].believed).toBe(true);
  const shifted = believeExposures(
    told.map((t) => t + 9),
    MEASURED.map((m) => m + 20),
    2,
  );
  expect(shifted).toEqual(found);
});

it("of two frames that contradict their notes the pixels stand", () => {
  expect(believeExposures([5, 3], [0, 2], 0)).toEqual([
    { told: 0, ev: 0, believed: false },
    { told: -2, ev: 2, believed: false },
  ]);
  expect(believeExposures([5, 7], [0, 2.2], 0).map((f) => f.ev)).toEqual([0, 2]);
});

it("equal exposures are believed", () => expect(believeExposures([0, 0, 0], [0, 0.05, -0.04], 0).every((f) => f.believed)).toBe(true));
