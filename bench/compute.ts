/**
 * CPU time of fusion and radiance of five (the median of three runs on either side), of clipping outliers of eight and of registration of three 12 MP frames against
 * python3-opencv and numpy in one run, and of a preview against copying the same bytes. Decoding is left out on both sides. Run: scripts/bench compute
 */
import { wholeFrame } from "../src/kinds/contents/frame/record";
import { written } from "../src/messages/message";
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createNodeEngine } from "../src/cli/createNodeEngine";
import { gatherFiles } from "../src/cli/gatherFiles";
import { addFrames, setRegistration, unmovedRegistration } from "../src/document/edits";
import { setFinish } from "../src/document/finishEdits";
import { addLayer, paintedMask } from "../src/document/layerEdits";
import { freshMerge, setMerge } from "../src/document/mergeEdits";
import type { FrameRecord, Records } from "../src/document/records/types";
import { framesOf } from "../src/document/selectors";
import type { MergeMethod } from "../src/kinds/merges/records";
import { SILENT } from "../src/engine/task";

const folder = mkdtempSync(join(tmpdir(), "marsh-bench-"));
const python = (script: string, ...args: string[]) =>
  JSON.parse(execFileSync("/usr/bin/python3", ["-c", script, ...args], { encoding: "utf8" })) as Record<string, number>;
const cpu = () => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1e6;
};
const timed = async (work: () => Promise<unknown>): Promise<number> => {
  const start = cpu();
  await work();
  return cpu() - start;
};
const median = (v: number[]) => [...v].sort((a, b) => a - b)[v.length >> 1];

const [W, H] = [4240, 2832];
python(
  `import cv2, sys, json
for i in (1, 2, 3, 4, 5):
    cv2.imwrite(sys.argv[2] + '/%d.jpg' % i, cv2.resize(cv2.imread(sys.argv[1] + '/doorway-%d.jpg' % i), (${W}, ${H}), interpolation=cv2.INTER_CUBIC), [cv2.IMWRITE_JPEG_QUALITY, 95])
print('{}')`,
  "demo/doorway",
  folder,
);
const all = [1, 2, 3, 4, 5].map((i) => join(folder, `${i}.jpg`));
const other = python(
  `import cv2, sys, json, time, numpy as np
cv2.setNumThreads(1)
def timed(work):
    t = time.process_time(); work(); return time.process_time() - t
thrice = lambda work: sorted(timed(work) for _ in range(3))[1]
f = [cv2.imread(p) for p in sys.argv[1:]]
m = cv2.createMergeMertens(1, 1, 1)
fusion = thrice(lambda: m.process(f))
times = np.float32([1 / 16, 1 / 4, 1, 4, 16])
radiance = thrice(lambda: cv2.createMergeDebevec().process(f, times, cv2.createCalibrateDebevec().process(f, times)))
stack = [np.float32(x) / 255 for x in f + f[:3]]
t = time.process_time()
a = np.ma.array(np.stack(stack))
for _ in range(2):
    middle, spread = np.ma.median(a, axis=0), np.ma.std(a, axis=0)
    a = np.ma.masked_where(np.abs(a - middle) > 3.6 * spread, a)
a.mean(axis=0)
clip = time.process_time() - t
del stack, a, middle, spread
f = f[1:4]
g = [cv2.cvtColor(x, cv2.COLOR_BGR2GRAY) for x in f]
t = time.process_time()
s = cv2.SIFT_create(4000); k = [s.detectAndCompute(x, None) for x in g]
for i in (0, 2):
    p = [a for a, b in cv2.BFMatcher().knnMatch(k[i][1], k[1][1], k=2) if a.distance < .75 * b.distance]
    cv2.findHomography(np.float32([k[i][0][a.queryIdx].pt for a in p]), np.float32([k[1][0][a.trainIdx].pt for a in p]), cv2.USAC_MAGSAC, 1.0)
reg = time.process_time() - t
print(json.dumps({'fusion': fusion, 'radiance': radiance, 'clip': clip, 'register': reg}))`,
  ...all,
);

const node = await createNodeEngine(process.cwd());
const gathered = await gatherFiles(node, "bench", all, SILENT);
const five = gathered.files.map((f) => f.frame!);
const frames = five.slice(1, 4);
const place = (of: FrameRecord[], ev: number[]) =>
  setRegistration(unmovedRegistration(of, of[of.length >> 1], 1), Object.fromEntries(of.map((f, i) => [f.id, ev[i]])))(gathered.records);
/** Rasters begun since they were last forgotten, so that a merge can be made more than once. */
const begun: string[] = [];
const create = node.ctx.store.create.bind(node.ctx.store);
node.ctx.store.create = (key, spec) => (begun.push(key), create(key, spec));
/** Makes a merge and stops before the file is written. */
const made = (records: Records, method: MergeMethod) =>
  node
    .ask(
      "exportPicture",
      { records, settings: { format: "hdr", quality: 1, space: "srgb", content: "merge", crop: true }, method },
      {
        step: async (_d, _t, what) => {
          if (what === "task.writing") throw new Error("enough");
        },
      },
    )
    .catch(() => undefined);
const ladder = place(five, [-4, -2, 0, 2, 4]);
// frames are in place on both sides
await node.ask("measurePlacedExposures", { records: ladder });
/** Median CPU time of making a merge three times. */
const thrice = async (method: MergeMethod): Promise<number> => {
  const times: number[] = [];
  begun.length = 0;
  for (let i = 0; i < 3; i++) {
    times.push(await timed(() => made(ladder, method)));
    for (const key of begun.splice(0)) await node.ctx.rasters.forget(key);
  }
  return median(times);
};
const fusion = await thrice("fusion");
const radiance = await thrice("radiance");
const again = addFrames(five.slice(0, 3).map(({ ...f }) => f))(gathered.records);
const eight = framesOf(again);
const level = setRegistration(unmovedRegistration(eight, eight[0], 1), Object.fromEntries(eight.map((f) => [f.id, 0])))(again);
await node.ask("measurePlacedExposures", { records: level });
const clip = await timed(() => made(level, "clippedMean"));
const three = Object.fromEntries(Object.entries(gathered.records).filter(([id]) => id !== five[0].id && id !== five[4].id));
const still = setRegistration(unmovedRegistration(frames, frames[1], 1), Object.fromEntries(frames.map((f, i) => [f.id, [-2, 0, 2][i]])))(three);
const register = await timed(() =>
  node.ask("register", { records: gathered.records, frames, request: { referenceId: frames[1].id, referenceReason: written(""), model: "auto" } }),
);

// a change of one value on a 1280×800 screen, and a dab of the brush
let records: Records = setMerge(freshMerge("fusion"))(still);
records = addLayer({
  id: "layer",
  name: "L",
  content: wholeFrame(frames[0].id),
  mask: paintedMask(0, "p"),
})(records);
const view = async (r: Records, level: number, width: number, height: number) =>
  node.ask("renderRect", { records: r, view: { kind: "output" }, level, rect: { x: 0, y: 0, width, height }, space: "srgb" });
const rounds = Array.from({ length: 15 }, (_, i) => i);
const measure = async (work: (i: number) => Promise<unknown>) => {
  const cpus: number[] = [];
  const walls: number[] = [];
  for (const i of rounds) {
    const wall = performance.now();
    cpus.push(await timed(() => work(i)));
    walls.push(performance.now() - wall);
  }
  return { cpuMs: median(cpus) * 1000, wallMs: median(walls) };
};
const exact = await measure((i) => view(setFinish("exposure", { ev: 0.1 * (i + 1) })(records), 2, 1060, 708));
const coarse = await measure((i) => view(setFinish("exposure", { ev: 0.1 * (i + 1) })(records), 4, 265, 177));
const bytes = new Uint8Array(1060 * 708 * 4);
const copy = await measure(async () => {
  for (let k = 0; k < 50; k++) bytes.slice();
});
const points: number[] = [];
const dab = await measure(async (i) => {
  points.push(800 + i * 20, 900, 1);
  const stroke = {
    kind: "stroke" as const,
    id: "live",
    index: 0,
    layerId: "layer",
    partId: "p",
    reveal: true,
    diameterPx: 300,
    softness: 0.8,
    flow: 0.4,
    opacity: 1,
    edgeTolerance: 0,
    spacing: 0.08,
    points: [...points],
  };
  await node.ask("renderRect", {
    records: { ...records, live: stroke },
    view: { kind: "compose" },
    level: 2,
    rect: { x: 150 + i * 5, y: 180, width: 90, height: 90 },
    space: "srgb",
  });
});

const line = (name: string, value: string) => console.log(`${name.padEnd(58)} ${value}`);
const ratio = (name: string, ours: number, theirs: number) => line(name, `${ours.toFixed(2)} s / ${theirs.toFixed(2)} s = ${(ours / theirs).toFixed(2)}`);
ratio("fusion 5 × 12 MP: Marsh / OpenCV, CPU", fusion, other.fusion);
ratio("radiance 5 × 12 MP: Marsh / OpenCV's Debevec, CPU", radiance, other.radiance);
ratio("outliers clipped 8 × 12 MP: Marsh / numpy, CPU", clip, other.clip);
ratio("registration 3 × 12 MP: Marsh / SIFT + MAGSAC, CPU", register, other.register);
line("one value changed, exact at this level: ratio to a copy", `${(exact.cpuMs / (copy.cpuMs / 50)).toFixed(0)}, ${exact.wallMs.toFixed(1)} ms here`);
line("one value changed, coarse: ratio to a copy", `${(coarse.cpuMs / (copy.cpuMs / 50)).toFixed(0)}, ${coarse.wallMs.toFixed(1)} ms here`);
line("a 300 px dab, shown", `${dab.cpuMs.toFixed(1)} ms CPU, ${dab.wallMs.toFixed(1)} ms here`);
line("resident memory of this process", `${(Number(/VmHWM:\s+(\d+)/.exec(readFileSync("/proc/self/status", "utf8"))![1]) / 1024).toFixed(0)} MiB`);
