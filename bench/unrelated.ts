/**
 * How often two frames of different scenes are taken for one: all pairs of pictures that tests/support/pairs.py makes from Debian's
 * photographs and OpenCV's examples, at 640 px. Run as: scripts/bench unrelated
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { buildGreyPyramid } from "../src/core/register/greyPyramid";
import { describeFrame, ladderExposures } from "../src/core/register/setFrames";
import { registerPair } from "../src/core/register/registerPair";
import { readPng } from "../src/formats/png/readPng";

const folder = mkdtempSync(join(tmpdir(), "marsh-unrelated-"));
const names = JSON.parse(execFileSync("/usr/bin/python3", ["tests/support/pairs.py", "unrelated", folder], { encoding: "utf8" })) as string[];
const pyramids = names.map((_, i) => buildGreyPyramid(readPng(new Uint8Array(readFileSync(join(folder, `${i}.png`)))).raster));
const described = pyramids.map(describeFrame);
let pairs = 0;
const accepted: string[] = [];
for (let a = 0; a < names.length && pairs < 200; a++) {
  for (let b = a + 1; b < names.length && pairs < 200; b++) {
    const [da, db] = [described[a], described[b]];
    const ev = ladderExposures([da, db], da.brightness < db.brightness ? [0, 1] : [1, 0]);
    const found = registerPair(pyramids[a], pyramids[b], ev[1] - ev[0], { model: "auto" });
    pairs++;
    if (found) accepted.push(`${names[a]} and ${names[b]}: ${(100 * found.agreement.agreeing).toFixed(0)} % of ${found.shifts.length} places`);
  }
}
process.stdout.write(`${accepted.length} of ${pairs} unrelated pairs were accepted.\n${accepted.map((line) => `  ${line}\n`).join("")}`);
