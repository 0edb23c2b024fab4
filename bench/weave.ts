/**
 * The weave's table for four frames of 24 MP, as a ratio to OpenCV looking at the same frames (superpixels, Laplacians, grabCut of the sky), and a
 * heal of 200 px radius as a ratio to seamlessClone. Run: scripts/bench weave
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createNodeEngine } from "../src/cli/createNodeEngine";
import { gatherFiles } from "../src/cli/gatherFiles";
import { setRegistration, unmovedRegistration } from "../src/document/edits";
import { addLayer } from "../src/document/layerEdits";
import { freshMerge, setMerge } from "../src/document/mergeEdits";
import { freshMask } from "../src/document/records/layerTypes";
import type { MaskPart } from "../src/kinds/maskParts/records";
import { SILENT } from "../src/engine/task";

const [W, H] = [6000, 4000];
const folder = mkdtempSync(join(tmpdir(), "marsh-weave-"));
const theirs = JSON.parse(
  execFileSync("/usr/bin/python3", [
    "-c",
    `import cv2, json, sys, time, numpy as np
cv2.setNumThreads(1)
fs = [cv2.resize(cv2.imread('demo/creek/creek-%d.jpg' % i), (${W}, ${H}), interpolation=cv2.INTER_CUBIC) for i in (1, 2, 3, 4)]
for i, f in enumerate(fs): cv2.imwrite(sys.argv[1] + '/%d.jpg' % i, f, [cv2.IMWRITE_JPEG_QUALITY, 92])
t = time.process_time()
for f in fs:
    s = cv2.resize(f, (375, 250), interpolation=cv2.INTER_AREA)
    g = cv2.cvtColor(cv2.resize(f, (1500, 1000), interpolation=cv2.INTER_AREA), cv2.COLOR_BGR2GRAY)
    cv2.Laplacian(g, cv2.CV_32F)
    p = cv2.ximgproc.createSuperpixelSLIC(cv2.cvtColor(s, cv2.COLOR_BGR2LAB), cv2.ximgproc.SLIC, 15); p.iterate(6); p.enforceLabelConnectivity()
    m = np.zeros(s.shape[:2], np.uint8)
    cv2.grabCut(s, m, (0, 0, 374, 120), np.zeros((1, 65)), np.zeros((1, 65)), 4, cv2.GC_INIT_WITH_RECT)
weave = time.process_time() - t
f = fs[0]; m = np.zeros((401, 401), np.uint8); cv2.circle(m, (200, 200), 200, 255, -1)
t = time.process_time()
for k in range(5): cv2.seamlessClone(f[800:1201, 2600:3001], f, m, (1800, 1000), cv2.NORMAL_CLONE)
print(json.dumps({'weave': weave, 'heal': (time.process_time() - t) / 5}))`,
    folder,
  ]).toString(),
) as { weave: number; heal: number };
const cpu = () => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1e6;
};
const node = await createNodeEngine(process.cwd());
const gathered = await gatherFiles(
  node,
  "bench",
  [0, 1, 2, 3].map((i) => join(folder, `${i}.jpg`)),
  SILENT,
);
const frames = gathered.files.map((f) => f.frame!);
const records = setMerge(freshMerge("base"))(setRegistration(unmovedRegistration(frames, frames[0], 1), {})(gathered.records));
await node.ask("renderRect", { records, view: { kind: "merge", method: null }, level: 4, rect: { x: 0, y: 0, width: 100, height: 100 }, space: "srgb" });
let [start, wall] = [cpu(), performance.now()];
const weave = await node.ask("proposeWeave", { records, regions: 12 });
const table = { cpu: cpu() - start, wall: (performance.now() - wall) / 1000 };
[start, wall] = [cpu(), performance.now()];
await node.ask("weaveBorders", { records, weave });
const borders = cpu() - start;
const disc: MaskPart = { id: "p", combine: "add", inverted: false, featherPx: 0, kind: "ellipse", cx: 1800, cy: 1000, rx: 200, ry: 200, angleDeg: 0 };
const rect = { x: 1500, y: 700, width: 600, height: 600 };
const heal: number[] = [];
for (let k = 0; k < 5; k++) {
  const content = { type: "retouch" as const, method: "heal" as const, dx: 1000 + k, dy: 0, angleDeg: 0, scale: 1, mirrored: false };
  const healed = addLayer({ id: `heal-${k}`, name: "Heal", content, mask: freshMask(0, [disc]) })(records);
  const before = cpu();
  await node.ask("renderRect", { records, view: { kind: "compose" }, level: 0, rect, space: "srgb" });
  const plain = cpu() - before;
  const at = cpu();
  await node.ask("renderRect", { records: healed, view: { kind: "compose" }, level: 0, rect, space: "srgb" });
  heal.push(cpu() - at - plain);
}
heal.sort((a, b) => a - b);
const peak = Number(/VmHWM:\s+(\d+)/.exec(readFileSync("/proc/self/status", "utf8"))![1]) / 1024;
const line = (name: string, value: string) => console.log(`${name.padEnd(62)} ${value}`);
line(
  "weave's table, 4 × 24 MP: Marsh / OpenCV's pieces, CPU",
  `${table.cpu.toFixed(1)} s / ${theirs.weave.toFixed(1)} s = ${(table.cpu / theirs.weave).toFixed(2)}, ${table.wall.toFixed(1)} s here`,
);
line("borders that do not show", `${borders.toFixed(1)} s CPU`);
line(
  "heal of 200 px radius: Marsh / seamlessClone, CPU",
  `${(1000 * heal[2]).toFixed(0)} ms / ${(1000 * theirs.heal).toFixed(0)} ms = ${(heal[2] / theirs.heal).toFixed(2)}`,
);
line("peak resident memory of all this", `${peak.toFixed(0)} MiB`);
process.exit(0);
