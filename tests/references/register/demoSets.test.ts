/** The creek and the wooden figure against the truth their scenes were made with (scripts/scenes/creekLights.py, figureSwap.py). */
import { readFileSync } from "node:fs";
import { project } from "../../../src/core/geometry/matrix3";
import { nightly } from "../../support/night";
import { runMarsh } from "../../support/python";

interface Frame {
  file: string;
  registered: boolean;
  matrix: number[][];
  distortion: { k1: number } | null;
  residualPx: number;
  drift: { rmsPx: number; agreeing: number } | null;
}
const read = <T>(path: string) => JSON.parse(readFileSync(path, "utf8")) as T;
const register = (...args: string[]) => (JSON.parse(runMarsh(["register", ...args, "--json", "--quiet"]).out) as { frames: Frame[] }).frames;

it("four lights of one evening lie on each other, and the frame with another lens is named with sign and size", () => {
  const folder = "demo/creek";
  const truth = read<{ frames: { file: string; k1: number; movingToReference: number[][] }[] }>(`${folder}/truth.json`);
  const found = register("--reference", `${folder}/creek-1.jpg`, ...["creek-2.jpg", "creek-3-lens.jpg", "creek-4.jpg"].map((f) => `${folder}/${f}`));
  for (const frame of found) {
    const wanted = truth.frames.find((f) => frame.file.endsWith(f.file))!;
    expect(frame.registered).toBe(true);
    expect(Math.abs((frame.distortion?.k1 ?? 0) - wanted.k1)).toBeLessThan(0.01);
    // where the lens does not move anything: the middle. Light and water differ, so a quarter of a px is asked, not a tenth
    for (const [x, y] of [
      [850, 560],
      [950, 640],
    ]) {
      const [p, q] = [project(frame.matrix.flat(), x, y), project(wanted.movingToReference.flat(), x, y)];
      expect(Math.hypot(p[0] - q[0], p[1] - q[1])).toBeLessThan(0.25);
    }
  }
});

nightly("only the shoulder lines up when only the shoulder is asked for", () => {
  const folder = "demo/figure";
  const truth = read<{ shoulder: number[]; points: { reference: number[][]; moving: number[][] } }>(`${folder}/truth.json`);
  const [x, y, w, h] = truth.shoulder;
  const error = (frame: Frame) => {
    const each = truth.points.moving.map((m, i) => {
      const [u, v] = project(frame.matrix.flat(), m[0], m[1]);
      return Math.hypot(u - truth.points.reference[i][0], v - truth.points.reference[i][1]);
    });
    return each.reduce((a, b) => a + b, 0) / each.length;
  };
  const files = ["--reference", `${folder}/figure-1.jpg`, `${folder}/figure-2.jpg`];
  const [whole] = register(...files);
  const [pinned] = register(...files, "--region", `${x - 30},${y - 30},${w + 60},${h + 60}`);
  process.stdout.write(
    `shoulder off by ${error(whole).toFixed(1)} px as a whole, ${error(pinned).toFixed(2)} px pinned, drift ${pinned.drift!.rmsPx.toFixed(1)} px\n`,
  );
  expect(error(pinned)).toBeLessThan(1);
  expect(error(whole)).toBeGreaterThan(5);
  expect(pinned.drift!.agreeing).toBeLessThan(0.3);
});

it("the frames of three jobs, named together, are grouped into their sets", () => {
  const files = [
    "doorway/doorway-1",
    "doorway/doorway-2",
    "doorway/doorway-3",
    "creek/creek-1",
    "creek/creek-2",
    "creek/creek-4",
    "figure/figure-1",
    "figure/figure-2",
  ];
  const { out } = runMarsh(["group", ...files.map((f) => `demo/${f}.jpg`), "--json", "--quiet"]);
  const { sets } = JSON.parse(out) as { sets: { kind: string; files: string[]; reasons: string[] }[] };
  expect(sets.map((s) => [s.kind, s.files.length])).toEqual([
    ["bracket", 3],
    ["separate", 3],
    ["separate", 2],
  ]);
  for (const s of sets) expect(s.reasons.length).toBeGreaterThan(0);
});
