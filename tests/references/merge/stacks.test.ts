/**
 * Focus merge and repeats against truth that tests/support/stacks.py (numpy, OpenCV, scikit-image) makes from Debian's photographs.
 * Sharpest-pixel selection with OpenCV reached 42.8 dB on such a smooth stack and 31.2 dB on one with steps; the mean of 16 frames gains √16.
 */
import { execFileSync } from "node:child_process";
import { readdirSync } from "node:fs";
import { join } from "node:path";
import { nightly } from "../../support/night";
import { runMarsh, temporaryFolder } from "../../support/python";

const stacks = <T>(...args: string[]): T =>
  JSON.parse(execFileSync("/usr/bin/python3", ["tests/support/stacks.py", ...args], { encoding: "utf8", maxBuffer: 1 << 26 }).trim()) as T;
const report: string[] = [];
afterAll(() => process.stdout.write(`${report.join("\n")}\n`));

interface Merged {
  frames: { share: number; registered: boolean }[];
  noiseGain: { measured: number; ideal: number } | null;
  ghosts: { areaPx: number; takenFrom: string | null }[];
}

function merge(method: string, folder: string, output: string, ...more: string[]): Merged {
  const files = readdirSync(folder)
    .filter((f) => /^\d+\.png$/.test(f))
    .sort()
    .map((f) => join(folder, f));
  const { code, out, err } = runMarsh(["merge", method, ...files, "-o", output, "--no-crop", "--json", "--quiet", ...more]);
  if (code !== 0) throw new Error(err);
  return JSON.parse(out) as Merged;
}
interface Score {
  psnr: number;
  ssim: number;
}

it("a smooth depth: at least 43 dB against the sharp truth, depth within a quarter of a step", () => {
  const folder = temporaryFolder();
  stacks("smooth", folder);
  const [out, depth] = [join(folder, "out.tif"), join(folder, "out-depth.tif")];
  const { frames, ghosts } = merge("focus", folder, out, "--no-register", "--reference", join(folder, "4.png"), "--depth", depth);
  // blur is nothing that moved
  expect(ghosts).toEqual([]);
  const score = stacks<Score>("score", out, join(folder, "truth.png"));
  const found = stacks<{ error: number; shape: number[]; type: string }>("depth", depth, join(folder, "depth.npy"));
  report.push(`focus, smooth: ${score.psnr.toFixed(1)} dB, depth off by ${found.error.toFixed(3)} of a step`);
  expect(score.psnr).toBeGreaterThanOrEqual(43);
  expect(found).toMatchObject({ shape: [640, 960], type: "float32" });
  expect(found.error).toBeLessThanOrEqual(0.25);
  expect(frames.reduce((sum, f) => sum + f.share, 0)).toBeCloseTo(1, 5);
});

it("what goes on between the frames is shown as it was at one moment: a cloud and a branch are not doubled", () => {
  const folder = temporaryFolder();
  stacks("moved", folder);
  const out = join(folder, "out.tif");
  const doubled = (...more: string[]) => {
    const { ghosts } = merge("focus", folder, out, "--no-register", "--reference", join(folder, "4.png"), ...more);
    return { ghosts, ...stacks<{ share: number; elsewhere: number }>("doubled", folder, out) };
  };
  const [taken, mixed] = [doubled(), doubled("--ghosts", "off")];
  report.push(`focus, moved: ${(100 * taken.share).toFixed(1)} % looks like no moment, ${(100 * mixed.share).toFixed(1)} % without looking for what moved`);
  expect(taken.ghosts.length).toBeGreaterThan(0);
  expect(taken.share).toBeLessThanOrEqual(0.03);
  // and what stood still is as it was
  expect(taken.elsewhere).toBeLessThanOrEqual(mixed.elsewhere + 0.001);
  expect(mixed.share).toBeGreaterThan(0.05);
});

it("a stack from a camera that stood still is not moved, however it is blurred: registered it is the same picture", () => {
  const folder = temporaryFolder();
  stacks("smooth", folder);
  const files = readdirSync(folder)
    .filter((f) => /^\d+\.png$/.test(f))
    .sort()
    .map((f) => join(folder, f));
  const { out } = runMarsh(["register", "--reference", files[4], ...files.filter((_, i) => i !== 4), "--json", "--quiet"]);
  const { frames } = JSON.parse(out) as { frames: { file: string; registered: boolean; matrix: number[][]; residualBeforePx: number }[] };
  for (const f of frames) expect([f.file, f.registered, f.matrix.flat()]).toEqual([f.file, true, [1, 0, 0, 0, 1, 0, 0, 0, 1]]);
});

nightly("depth steps and 1.2 % framing change: at least 33 dB and 0.97, and far above the best single frame", () => {
  const folder = temporaryFolder();
  stacks("steps", folder);
  const out = join(folder, "out.tif");
  const { frames } = merge("focus", folder, out, "--reference", join(folder, "4.png"));
  const score = stacks<Score>("score", out, join(folder, "truth.png"));
  const single = stacks<Score>("score", join(folder, "4.png"), join(folder, "truth.png"));
  report.push(`focus, steps: ${score.psnr.toFixed(1)} dB, SSIM ${score.ssim.toFixed(3)}; best single frame ${single.psnr.toFixed(1)} dB`);
  expect(frames.every((f) => f.registered)).toBe(true);
  expect(score.psnr).toBeGreaterThanOrEqual(33);
  expect(score.ssim).toBeGreaterThanOrEqual(0.97);
  expect(score.psnr).toBeGreaterThan(single.psnr + 5);
});

describe("repeats", () => {
  const folder = temporaryFolder();
  stacks("repeats", folder);
  const run = (method: string) => {
    const out = join(folder, `${method}.tif`);
    const merged = merge(method, folder, out, "--no-register");
    return { merged, ...stacks<{ gain: number; worst: number }>("gain", folder, out) };
  };

  it("the mean of 16 without outliers gains at least 3.95 in noise, and what passed is gone", () => {
    const { gain, worst, merged } = run("clipped");
    report.push(`clipped mean of 16: noise lower by ${gain.toFixed(2)}, measured by Marsh ${merged.noiseGain!.measured.toFixed(2)}`);
    expect(gain).toBeGreaterThanOrEqual(3.95);
    expect(worst).toBeLessThan(0.02);
    expect(merged.noiseGain!.ideal).toBe(4);
    // measured without the truth, in areas that are not quite flat
    expect(Math.abs(merged.noiseGain!.measured - gain)).toBeLessThan(0.4);
  });

  nightly("the median drops what passed too, at more noise; the plain mean keeps traces", () => {
    const [median, mean] = [run("median"), run("mean")];
    expect(median.worst).toBeLessThan(0.02);
    // 1.2533 / √16 for a normal distribution
    expect(median.gain).toBeGreaterThan(3);
    expect(mean.worst).toBeGreaterThan(0.04);
    expect(mean.gain).toBeGreaterThan(3.95);
  });
});

it("one frame, or a depth asked of another method, gets a sentence", () => {
  const one = "demo/doorway/doorway-1.jpg";
  expect(runMarsh(["merge", "focus", one, "-o", "out.tif", "--quiet"]).err).toContain("needs at least two files");
  expect(runMarsh(["merge", "mean", one, one, "-o", "out.tif", "--depth", "d.tif", "--quiet"]).err).toContain("--depth goes with merge focus");
});
