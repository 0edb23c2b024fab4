import type { GuideLine } from "../core/geometry/tilt";
import { project } from "../core/geometry/matrix3";
import { addFrames, removeRecord, setGeometry, setRegistration, startJob, unmovedRegistration } from "./edits";
import { checkRecord } from "./parseDocument";
import { outputGeometry, outputToReference } from "./outputGeometry";
import type { Records } from "./records/types";
import { documentSize, framesOf, geometryOf } from "./selectors";
import { tellPlate } from "./seatEdits";
import { costOfTurn, linesLeft, straightenByLines, turnByPlate, turnNow, turnTo } from "./straightenEdits";
import { coverTest } from "./validCrop";
import { newFrame } from "../../tests/support/records";
import { freshMerge, setMerge } from "./mergeEdits";

function singlePicture(): Records {
  const added = addFrames([newFrame({ width: 900, height: 600, focalLength35Mm: 30 })])(startJob("Test", "2026-01-01T00:00:00Z", "set-1").records);
  const [frame] = framesOf(added);
  return setMerge(freshMerge("base", { baseId: frame.id }))(setRegistration(unmovedRegistration([frame], frame, 1), {})(added));
}
const start = singlePicture();
const size = documentSize(start)!;
const [w, h] = [size.width, size.height];

const converging: GuideLine[] = [
  { is: "upright", from: [0.2 * w, 0.9 * h], to: [0.26 * w, 0.1 * h] },
  { is: "upright", from: [0.8 * w, 0.1 * h], to: [0.85 * w, 0.9 * h] },
];

it("lines straighten the picture, are kept with it, and say what is left of them", () => {
  const made = straightenByLines(converging)(start);
  expect(geometryOf(made)!.lines).toEqual(converging);
  for (const left of linesLeft(made)) expect(Math.abs(left)).toBeLessThan(0.02);
  expect(turnNow(made).pitchDeg).toBeGreaterThan(1);
  checkRecord(geometryOf(made)!);
  // without them it is as it was taken
  const back = straightenByLines([])(made);
  expect(turnNow(back)).toEqual({ angleDeg: 0, pitchDeg: 0, yawDeg: 0 });
  expect(geometryOf(back)!.lines).toBeUndefined();
  expect(outputGeometry(removeRecord(geometryOf(back)!.id)(back)).tilt).toBeUndefined();
});

it("the crop of a turned camera holds no empty pixel, and hardly less than could be", () => {
  const made = turnTo({ angleDeg: 1.5, pitchDeg: 14, yawDeg: 4 }, 3 / 2)(start);
  const geometry = outputGeometry(made);
  const { width, height } = geometry.crop;
  const map = outputToReference(geometry, size);
  const covered = coverTest(made);
  const border = Array.from({ length: 60 }, (_, i) => i / 59).flatMap((t) => [
    [t * (width - 1), 0],
    [t * (width - 1), height - 1],
    [0, t * (height - 1)],
    [width - 1, t * (height - 1)],
  ]);
  for (const [x, y] of border) expect(covered(...project(map, x, y))).toBe(true);
  expect(width / height).toBeCloseTo(1.5, 1);
  const wider = border.some(([x, y]) => !covered(...project(map, 1.03 * (x - width / 2) + width / 2, 1.03 * (y - height / 2) + height / 2)));
  expect(wider).toBe(true);
});

it("a crop, a ratio or another turn leave the camera as it was turned; what it costs is what its corners say", () => {
  const made = turnTo({ angleDeg: 0, pitchDeg: 10, yawDeg: 0 }, null)(start);
  const { crop } = outputGeometry(made);
  const cropped = setGeometry({ angleDeg: 0, crop: { ...crop, width: crop.width - 20 }, ratio: null })(made);
  expect(turnNow(cropped).pitchDeg).toBe(10);
  const { kept, apart } = costOfTurn(made);
  // by the shoelace formula of the crop's corners in the picture as shot: a homography keeps lines straight
  const map = outputToReference(outputGeometry(made), size);
  const ends: [number, number][] = [
    [0, 0],
    [crop.width - 1, 0],
    [crop.width - 1, crop.height - 1],
    [0, crop.height - 1],
  ];
  const corners = ends.map(([x, y]) => project(map, x, y));
  const area = Math.abs(corners.reduce((sum, [x, y], i) => sum + x * corners[(i + 1) % 4][1] - corners[(i + 1) % 4][0] * y, 0)) / 2;
  expect(kept).toBeCloseTo(area / (w * h), 2);
  // above, a px across is drawn out to as much as a step along its row says, and more down it
  const [p, q] = [project(map, 0, 0), project(map, 1, 0)];
  expect(apart).toBeGreaterThan(1 / Math.hypot(q[0] - p[0], q[1] - p[1]) - 0.02);
  expect(costOfTurn(start).kept).toBeCloseTo(1, 2);
});

it("the horizon of a plate proposes the turn, a guessed one does not", () => {
  expect(turnByPlate(tellPlate({ heightM: 2 })(start))).toBeNull();
  const told = tellPlate({ stance: { pitchDeg: 8, rollDeg: 0, focalPx: w }, horizonBy: "hand" })(start);
  expect(turnByPlate(told)).toEqual({ angleDeg: expect.closeTo(0, 9), pitchDeg: expect.closeTo(8, 9), yawDeg: 0 });
});
