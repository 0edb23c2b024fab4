/**
 * Scenes that repeat themselves: tiles, windows, railings, cells cut from photographs, shifted by a tenth of a period to five, with nothing that is there only once up to
 * 40 % of the frame. The pairs are made by tests/support/repeated.py (numpy, OpenCV); SIFT with RANSAC of the same OpenCV stands beside at night. Where nothing is there
 * only once, no solution is better than the others, and Marsh must not be sure of any.
 */
import { readFileSync } from "node:fs";
import { invert, project } from "../../../src/core/geometry/matrix3";
import { buildGreyPyramid } from "../../../src/core/register/greyPyramid";
import { registerSet, workHere } from "../../../src/core/register/registerSet";
import { describeFrame } from "../../../src/core/register/setFrames";
import { readPng } from "../../../src/formats/png/readPng";
import { NIGHT } from "../../support/night";
import { runSupport, temporaryFolder } from "../../support/python";

interface Made {
  name: string;
  a: string;
  b: string;
  /** a → b */
  homography: number[];
  unique: number;
  sift: number | null;
}

const [WIDTH, HEIGHT] = [1080, 720];
const EACH = 101;
const pairs = runSupport<Made[]>("repeated.py", [temporaryFolder(), String(NIGHT ? 1 : EACH), ...(NIGHT ? ["sift"] : [])]);
const [sure, report] = [
  { ours: 0, right: 0 },
  { sift: 0, unique: 0, right: 0 },
];
afterAll(() =>
  process.stdout.write(
    `sure: ${sure.ours}, right of them ${sure.right}; with something unique: ${report.unique}, right ${report.right}${NIGHT ? `, SIFT ${report.sift}` : ""}\n`,
  ),
);

it.each(pairs.map((p) => [p.name, p] as const))("%s", async (_, made) => {
  const pyramids = [made.a, made.b].map((file) => buildGreyPyramid(readPng(new Uint8Array(readFileSync(file))).raster));
  const options = { model: "auto" as const, reference: 0, order: "ladder" as const, work: workHere(async (i) => pyramids[i], null) };
  const [, found] = await registerSet(pyramids.map(describeFrame), options);
  let [sum, n] = [0, 0];
  const toMoving = found.matrix && invert(found.matrix);
  for (let y = 0; toMoving && y < HEIGHT; y += 60) {
    for (let x = 0; x < WIDTH; x += 60) {
      const [p, q] = project(made.homography, x, y);
      if (p < 0 || q < 0 || p > WIDTH - 1 || q > HEIGHT - 1) continue;
      const [u, v] = project(toMoving, x, y);
      sum += Math.hypot(u - p, v - q);
      n++;
    }
  }
  const error = toMoving ? sum / n : Infinity;
  if (found.confidence > 0.5) {
    sure.ours++;
    if (error < 1) sure.right++;
    expect(error).toBeLessThan(1);
  }
  if (made.unique === 0) {
    if (found.registered) expect(found.otherPx.length).toBeGreaterThan(0);
    expect(found.confidence).toBeLessThanOrEqual(0.5);
    return;
  }
  report.unique++;
  if (error < 1) report.right++;
  if (made.sift !== null && made.sift < 1.5) report.sift++;
  expect(error).toBeLessThan(0.3);
  expect(found.confidence).toBeGreaterThan(0.5);
});
