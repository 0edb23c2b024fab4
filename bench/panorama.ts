/**
 * Seven frames of 24 MP from one photograph with known directions, joined by Marsh and by python3-opencv's Stitcher (one thread) in one
 * run: CPU time without decoding and writing files, error of the directions, peak resident memory. Run: scripts/bench panorama
 */
import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createNodeEngine } from "../src/cli/createNodeEngine";
import { gatherFiles } from "../src/cli/gatherFiles";
import { angleBetween, transpose } from "../src/core/panorama/camera";
import { multiply } from "../src/core/geometry/matrix3";
import { freshMerge, setMerge } from "../src/document/mergeEdits";
import { setPanorama } from "../src/document/panoramaEdits";
import { SILENT } from "../src/engine/task";

const folder = process.env.FRAMES ?? mkdtempSync(join(tmpdir(), "marsh-bench-"));
const python = (...args: string[]) => execFileSync("/usr/bin/python3", args, { encoding: "utf8", maxBuffer: 1 << 26 });
if (!process.env.FRAMES) {
  mkdirSync(folder, { recursive: true });
  const spec = {
    photo: "/usr/share/backgrounds/life_by_Aitzol_Berasategi.jpg",
    degrees: 150,
    masterWidth: 13600,
    grain: 14,
    size: [4000, 6000],
    focal: 5200,
    falloff: 0.25,
    views: [0, 0.2, -0.1, 0.15, -0.2, 0.1, 0].map((ev, i) => [
      -45 + 15 * i,
      [0.5, -0.7, 0.3, 0.9, -0.4, 0.2, -0.6][i],
      [0.4, -0.8, 0.6, 0.1, -0.5, 0.7, -0.2][i],
      ev,
    ]),
  };
  python("tests/support/panorama.py", "make", folder, JSON.stringify(spec));
}
const STITCH = `
import cv2, json, resource, sys, time
cv2.setNumThreads(1)
frames = [cv2.imread(p) for p in sys.argv[1:]]
t = time.process_time(); status, picture = cv2.Stitcher_create(cv2.STITCHER_PANORAMA).stitch(frames); t = time.process_time() - t
print(json.dumps({'ok': status == 0, 'cpu': t, 'peak': resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024}))`;
const truth = JSON.parse(readFileSync(join(folder, "truth.json"), "utf8")) as { focal: number; frames: { file: string; rotation: number[] }[] };
const files = truth.frames.map((f) => join(folder, f.file));
const other = JSON.parse(python("-c", STITCH, ...files)) as { ok: boolean; cpu: number; peak: number };

let peak = 0;
const watch = setInterval(() => (peak = Math.max(peak, process.memoryUsage().rss)), 100);
const cpu = () => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1e6;
};
const node = await createNodeEngine(process.cwd());
const gathered = await gatherFiles(node, "bench", files, SILENT);
const frames = gathered.files.map((f) => f.frame!);
const start = cpu();
const { registration, panorama } = await node.ask("preparePanorama", {
  frames,
  request: { focalPx: null, points: [], levels: [], bent: 0, projection: "equirectangular" },
});
const solved = cpu();
const draft = freshMerge("panorama");
await node.ask("merge", { records: setMerge(draft)(setPanorama(registration, panorama)(gathered.records)), method: "panorama" });
const joined = cpu();
clearInterval(watch);
const errors = panorama.frames.map((f, i) =>
  angleBetween(multiply(transpose(panorama.frames[0].rotation!), f.rotation!), multiply(transpose(truth.frames[0].rotation), truth.frames[i].rotation)),
);
const { width, height } = panorama.view;
console.log(
  `Marsh: ${width}×${height} px, worst direction ${Math.max(...errors).toFixed(4)}° off, focal length ${((100 * panorama.lens.focalPx) / truth.focal - 100).toFixed(3)} % off`,
);
console.log(
  `Marsh: ${(solved - start).toFixed(1)} CPU s for directions and light, ${(joined - solved).toFixed(1)} for seams and joining, peak ${Math.round(peak / 2 ** 20)} MiB`,
);
console.log(`OpenCV's Stitcher: ${other.ok ? "" : "failed, "}${other.cpu.toFixed(1)} CPU s, peak ${Math.round(other.peak)} MiB`);
console.log(`Marsh / Stitcher: ${((joined - start) / other.cpu).toFixed(2)}`);
