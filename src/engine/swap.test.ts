/** Parts taken from another frame, on the two poses of the wooden figure, held to the truth its scene was made with (scripts/scenes/figureSwap.py). */
import { readFileSync } from "node:fs";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { multiply, project } from "../core/geometry/matrix3";
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
let placed: number[];
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
  const request = { referenceId: frames[0].id, referenceReason: { code: "reference.byHand", values: {} }, model: "auto" } as never;
  const { registration, measuredEv } = await node.ask("register", { records, frames, request });
  process.stdout.write(JSON.stringify(registration.placements.map((p) => [p.registered, p.model, p.residualPx, p.agreeing, p.matrix])) + "\n");
  plain = setMerge(freshMerge("base", { baseId: frames[0].id }))(setRegistration(registration, measuredEv)(records));
  placed = registration.placements[1].matrix!;
});

/** Mean distance at the shoulder, px, of where a layer puts the other frame from where it belongs. */
const offAt = (moved: Parameters<typeof movedMatrix>[0]) => {
  const matrix = multiply(movedMatrix(moved, { width: W, height: H }), placed);
  const each = truth.points.moving.map(([x, y], i) => {
    const [u, v] = project(matrix, x, y);
    return Math.hypot(u - truth.points.reference[i][0], v - truth.points.reference[i][1]);
  });
  return each.reduce((a, b) => a + b, 0) / each.length;
};

it("fit", async () => {
  const { writeFileSync } = await import("node:fs");
  const { concatBytes } = await import("../formats/bytes");
  const joint = { x: X - 10, y: Y - 40, width: WIDTH + 10, height: HEIGHT + 80 };
  let records = plain;
  for (const [id, box, j] of [
    ["head", { x: 680, y: 90, width: 190, height: 200 }, joint],
    ["old arm", { x: 220, y: 10, width: 460, height: 340 }, null],
    ["arm", { x: 500, y: 270, width: 250, height: 360 }, joint],
  ] as const) {
    records = addSwap({ id, name: id, box, looks: [] })(records);
    const swap = swapsOf(records).find((s) => s.id === id)!;
    const t = performance.now();
    const begun = beginPart(swap, frames[1].id);
    const part = (await node.ask("fitPart", { records: begun.edit(records), layerId: begun.layerId, box, joint: j }))!;
    process.stdout.write(`${id} ${performance.now() - t} ms ${JSON.stringify(part.content.fit)} ${part.content.exposureEv} ${part.cells.cellPx}\n`);
    records = takePart(id, frames[1].id, part.content, part.cells)(records);
    const layerId = swapsOf(records).find((s) => s.id === id)!.layerId!;
    process.stdout.write(`${JSON.stringify(await node.ask("seamFigures", { records, layerId }))} off ${offAt(part.content.moved!)}\n`);
    const settings = { format: "png16", quality: 95, space: "srgb", content: "finished", crop: false } as const;
    writeFileSync(`/tmp/swap-${id.replace(" ", "")}.png`, concatBytes((await node.ask("exportPicture", { records, settings })).parts));
  }
  void layerOf;
  expect(1).toBe(1);
});
