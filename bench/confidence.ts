/**
 * What a stated confidence is worth: pairs with a known map (tests/support/pairs.py and repeated.py), registered, in bins of what was said, and how many of each bin are
 * right, which is within 1 px in the mean. Refused pairs are counted apart. Run: scripts/bench confidence [each], of the repeated scenes every `each`th, 12 by default.
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { distort } from "../src/core/geometry/lens";
import { invert, project, type Matrix3 } from "../src/core/geometry/matrix3";
import { buildGreyPyramid } from "../src/core/register/greyPyramid";
import { registerSet, workHere } from "../src/core/register/registerSet";
import { describeFrame } from "../src/core/register/setFrames";
import { readPng } from "../src/formats/png/readPng";

interface KnownPair {
  name: string;
  a: string;
  b: string;
  /** a → undistorted b */
  homography: Matrix3;
  k1: number;
}

const [each = "12"] = process.argv.slice(2);
const folder = () => mkdtempSync(join(tmpdir(), "marsh-confidence-"));
const made = <T>(script: string, args: string[]): T[] =>
  JSON.parse(
    execFileSync("/usr/bin/python3", [`tests/support/${script}`, ...args], { encoding: "utf8", maxBuffer: 1 << 28 })
      .trim()
      .split("\n")
      .pop()!,
  ) as T[];

function numbered(kind: "known" | "hard"): KnownPair[] {
  const out = folder();
  const pairs = made<Omit<KnownPair, "a" | "b"> & { file: number }>("pairs.py", [kind, out]);
  return pairs.map((p) => ({ ...p, a: join(out, `${p.file}_a.png`), b: join(out, `${p.file}_b.png`) }));
}
const repeated = made<Omit<KnownPair, "k1">>("repeated.py", [folder(), each]).map((p) => ({ ...p, k1: 0 }));

const EDGES = [0.2, 0.4, 0.5, 0.6, 0.8, 0.9, 1];
const bins = EDGES.map(() => ({ said: 0, pairs: 0, right: 0 }));
let refused = 0;
for (const pair of [...numbered("known"), ...numbered("hard"), ...repeated]) {
  const pyramids = [pair.a, pair.b].map((file) => buildGreyPyramid(readPng(new Uint8Array(readFileSync(file))).raster));
  const work = workHere(async (i) => pyramids[i], null);
  const [, found] = await registerSet(pyramids.map(describeFrame), { model: "auto", reference: 0, order: "ladder", work });
  if (!found.matrix) {
    refused++;
    continue;
  }
  const [a, b] = pyramids;
  const toMoving = invert(found.matrix);
  let [sum, n] = [0, 0];
  for (let y = 0; y < a.height; y += 40) {
    for (let x = 0; x < a.width; x += 40) {
      const [p, q] = distort({ k1: pair.k1, k2: 0 }, b, ...project(pair.homography, x, y));
      if (p < 0 || q < 0 || p > b.width - 1 || q > b.height - 1) continue;
      const [u, v] = distort(found.lens, b, ...project(toMoving, x, y));
      sum += Math.hypot(u - p, v - q);
      n++;
    }
  }
  const bin = bins[EDGES.findIndex((edge) => found.confidence <= edge)];
  bin.pairs++;
  bin.said += found.confidence;
  if (sum / n < 1) bin.right++;
  else if (found.confidence > 0.5) process.stdout.write(`wrong and sure: ${pair.name}, ${(sum / n).toFixed(2)} px, said ${found.confidence.toFixed(2)}\n`);
}
for (const [i, { said, pairs, right }] of bins.entries()) {
  if (pairs > 0) process.stdout.write(`to ${EDGES[i].toFixed(1)}: ${pairs} pairs, said ${(said / pairs).toFixed(2)}, right ${(right / pairs).toFixed(2)}\n`);
}
process.stdout.write(`refused: ${refused}\n`);
