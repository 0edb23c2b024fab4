/** The weave of the demo job "Creek, four lights": the renderer knows which frame is best where. */
import { createNodeEngine } from "../../../src/cli/createNodeEngine";
import { gatherFiles } from "../../../src/cli/gatherFiles";
import { differenceCiede2000, workingToLab } from "../../../src/core/color/colorDifference";
import { fillCells } from "../../../src/core/masks/cellRuns";
import { readFileSync } from "node:fs";
import { setRegistration, unmovedRegistration } from "../../../src/document/edits";
import { freshMerge, setMerge } from "../../../src/document/mergeEdits";
import type { Records } from "../../../src/document/records/types";
import type { WeaveRecord } from "../../../src/document/records/weaveTypes";
import { framesOf, layersOf } from "../../../src/document/selectors";
import { chooseForRegion, joinRegions, layWeave, replaceRegion, setWeave } from "../../../src/document/weaveEdits";
import { composeRect, prepareJob } from "../../../src/engine/operations/layers/compose";
import { each } from "../../../src/engine/operations/frames/frameSamples";
import { readLayer } from "../../../src/engine/operations/merge/readLayer";
import { SILENT } from "../../../src/engine/task";
import { runPython } from "../../support/python";
import type { NodeEngine } from "../../../src/cli/createNodeEngine";

let node: NodeEngine;
let records: Records;
let weave: WeaveRecord;

beforeAll(async () => {
  node = await createNodeEngine(process.cwd());
  const files = [1, 2, 3, 4].map((i) => `demo/creek/creek-${i}.jpg`);
  const gathered = await gatherFiles(node, "Creek", files, SILENT);
  const frames = gathered.files.map((f) => f.frame!);
  // placed as the renderer placed them; registration has tests of its own
  const truth = (JSON.parse(readFileSync("demo/creek/truth.json", "utf8")) as { frames: { file: string; movingToReference: number[][] }[] }).frames;
  const unmoved = unmovedRegistration(frames, frames[0], 1);
  const placements = unmoved.placements.map((p, i) => ({ ...p, matrix: truth.find((t) => t.file === `creek-${i + 1}.jpg`)!.movingToReference.flat() }));
  records = setMerge(freshMerge("fusion"))(setRegistration({ ...unmoved, placements }, {})(gathered.records));
  weave = await node.ask("proposeWeave", { records, regions: 12 });
});

// px of the reference, by eye; of the sky OpenCV tells
const AREAS: { best: number; boxes: [number, number, number, number][] }[] = [
  {
    best: 2,
    boxes: [
      [0, 560, 300, 800],
      [640, 520, 1050, 760],
      [640, 960, 1000, 1190],
      [1500, 540, 1790, 680],
      [180, 820, 420, 1190],
    ],
  },
  {
    best: 3,
    boxes: [
      [1150, 880, 1700, 1190],
      [1200, 600, 1330, 720],
      [1400, 700, 1650, 760],
    ],
  },
  { best: 4, boxes: [[320, 450, 620, 560]] },
];

/** The frame that the renderer made the best for most of a region, or null where it says nothing. */
function knownBest(runs: number[], sky: Uint8Array, skyBest: number): number | null {
  const on = fillCells(runs, { x: 0, y: 0, width: weave.columns, height: weave.rows });
  const votes = new Map<number, number>();
  let count = 0;
  on.forEach((v, i) => {
    if (!v) return;
    count++;
    const [x, y] = [((i % weave.columns) + 0.5) * weave.cellPx, (Math.floor(i / weave.columns) + 0.5) * weave.cellPx];
    const area = sky[i] ? skyBest : AREAS.find(({ boxes }) => boxes.some(([x0, y0, x1, y1]) => x >= x0 && x < x1 && y >= y0 && y < y1))?.best;
    if (area) votes.set(area, (votes.get(area) ?? 0) + 1);
  });
  const [best] = [...votes.entries()].sort((a, b) => b[1] - a[1]);
  return best && best[1] > 0.25 * count ? best[0] : null;
}

const skyOf = () =>
  Uint8Array.from(
    runPython<number[]>(
      `import cv2, json; print(json.dumps([int(v > 127) for v in cv2.resize(cv2.imread('demo/creek/sky.png', 0), (${weave.columns}, ${weave.rows}), interpolation=cv2.INTER_AREA).ravel()]))`,
    ),
  );

/** The frame whose sky has the most chroma among those with less than a twentieth of its values burnt, measured by OpenCV where the renderer's sky is. The dusk has more, and a sixth of it burnt. */
const bestSkyOf = () =>
  runPython<number>(
    `import cv2, json, numpy as np
frames = json.load(open("demo/creek/truth.json"))["frames"]
sky = cv2.resize(cv2.imread("demo/creek/sky.png", 0), (1800, 1200)) > 127
chroma = []
for i in range(1, 5):
    frame = next(f for f in frames if f["file"] == f"creek-{i}.jpg")
    picture = cv2.warpPerspective(cv2.imread("demo/creek/" + frame["file"]), np.array(frame["movingToReference"]), (1800, 1200))
    lab = cv2.cvtColor((picture / 255).astype(np.float32), cv2.COLOR_BGR2Lab)[sky]
    chroma.append(0 if (picture[sky] >= 250).mean() > 0.05 else np.hypot(lab[:, 1], lab[:, 2]).mean())
print(json.dumps(1 + int(np.argmax(chroma))))`,
  );

it("the frame proposed is the best one that is known in nine of ten regions, by area nearly everywhere", () => {
  const [sky, skyBest] = [skyOf(), bestSkyOf()];
  const numbers = new Map(framesOf(records).map((f, i) => [f.id, i + 1]));
  const judged = weave.regions.flatMap((r) => {
    const best = knownBest(r.runs, sky, skyBest);
    return best ? [{ best, proposed: numbers.get(r.choice!)!, cells: r.runs.reduce((s, v, i) => (i % 3 === 2 ? s + v - r.runs[i - 1] : s), 0) }] : [];
  });
  expect(judged.length).toBeGreaterThanOrEqual(8);
  expect(new Set(judged.map((j) => j.best))).toEqual(new Set([2, 3, 4]));
  const right = judged.filter((j) => j.best === j.proposed);
  expect(right.length / judged.length).toBeGreaterThanOrEqual(0.9);
  const area = (list: typeof judged) => list.reduce((s, j) => s + j.cells, 0);
  expect(area(right) / area(judged)).toBeGreaterThan(0.95);
});

it("regions cover the picture once; one can be parted and the halves joined again", async () => {
  const counts = new Uint8Array(weave.columns * weave.rows);
  for (const { runs } of weave.regions) fillCells(runs, { x: 0, y: 0, width: weave.columns, height: weave.rows }).forEach((v, i) => (counts[i] += v));
  expect(counts.every((v) => v === 1)).toBe(true);
  const woven = setWeave(weave)(records);
  const largest = weave.regions[0];
  const halves = (await node.ask("splitWeaveRegion", { records: woven, weave, regionId: largest.id }))!;
  expect(halves).toHaveLength(2);
  const parted = replaceRegion(largest.id, halves)(woven);
  const cells = await node.ask("measureArea", { records: parted, runs: largest.runs });
  const joined = joinRegions(halves[0].id, halves[1].id, cells)(parted)[weave.id] as WeaveRecord;
  expect(joined.regions.find((r) => r.id === halves[0].id)!.runs).toEqual(largest.runs);
  cells.forEach((m, k) => expect(m.lightEv).toBeCloseTo(largest.cells[k].lightEv, 5));
});

it("laid as layers, the picture is the chosen frame inside each region, and borders do not show where the frames agree", async () => {
  // the dusk's sky by hand: then all four frames are in it
  const sky = weave.regions.find((r) => r.name === "Sky")!;
  const woven = chooseForRegion(sky.id, framesOf(records)[0].id)(setWeave(weave)(records));
  const chosen = woven[weave.id] as WeaveRecord;
  const frames = await node.ask("weaveBorders", { records: woven, weave: chosen });
  const laid = layWeave(chosen, frames)(woven);
  expect(layersOf(laid)).toHaveLength(4);
  // laid once more, the layers of before make room
  expect(layersOf(layWeave(chosen, frames)(laid))).toHaveLength(4);
  const job = await prepareJob(node.ctx, laid, SILENT);
  const rect = { x: 0, y: 0, width: weave.columns, height: weave.rows };
  const n = rect.width * rect.height;
  const level = Math.log2(weave.cellPx);
  const { kernels } = node.ctx;
  const labs = (planes: Float32Array[]) =>
    Array.from({ length: n }, (_, i) => workingToLab(planes.map((p) => Math.min(1, Math.max(0, p[i]))) as [number, number, number]));
  const read = (make: (scope: Parameters<Parameters<typeof kernels.withScope>[0]>[0]) => ReturnType<typeof readLayer>) =>
    labs(kernels.withScope((scope) => each(make(scope)).map((at) => kernels.f32(at, n).slice())));
  const result = read((scope) => composeRect(node.ctx, job, level, rect, "layers", scope));
  const own = job.inputs.frames.map((f) => read((scope) => readLayer(scope, f, level, rect, 0)));
  const label = new Uint8Array(n);
  frames.forEach(({ frameId, runs }) => {
    const k = job.inputs.frames.findIndex((f) => f.frame.id === frameId);
    fillCells(runs, rect).forEach((v, i) => v && (label[i] = k));
  });
  let [steps, borders] = [0, 0];
  for (let y = 1; y < rect.height - 1; y++) {
    for (let x = 1; x < rect.width - 1; x++) {
      const i = y * rect.width + x;
      for (const j of [i + 1, i + rect.width]) {
        const [a, b] = [label[i], label[j]];
        if (a === b) continue;
        // where both frames look alike on both sides of the border
        if (differenceCiede2000(own[a][i], own[b][i]) > 3 || differenceCiede2000(own[a][j], own[b][j]) > 3) continue;
        const natural = Math.max(differenceCiede2000(own[a][i], own[a][j]), differenceCiede2000(own[b][i], own[b][j]));
        steps += Math.max(0, differenceCiede2000(result[i], result[j]) - natural);
        borders++;
      }
    }
  }
  expect(borders).toBeGreaterThan(30);
  expect(steps / borders).toBeLessThan(1);
  // well inside a region it is the frame itself
  const k = job.inputs.frames.findIndex((f) => f.frame.id === framesOf(records)[0].id);
  const at = 20 * rect.width + 60;
  expect(differenceCiede2000(result[at], own[k][at])).toBeLessThan(0.2);
});

it("a region taken from the merge has no layer of its own there", () => {
  const one = weave.regions.find((r) => r.name === "Sky")!;
  const changed = chooseForRegion(one.id, null)(setWeave(weave)(records))[weave.id] as WeaveRecord;
  expect(changed.regions.find((r) => r.id === one.id)).toMatchObject({ choice: null, byHand: true });
});
