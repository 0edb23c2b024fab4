/** The border of a bracket: what the edge cuts is told before and after merging, and what only burnt frames cover is empty. */
import { findingSentence, findingTitle } from "../words/findings";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { setGeometry } from "../document/edits";
import { addLayer } from "../document/layerEdits";
import { freshMask } from "../document/records/layerTypes";
import type { Records } from "../document/records/types";
import { IDENTITY } from "../core/geometry/matrix3";
import { prepareRegistered, prepareSmallJob, SMALL_JOB } from "../../tests/support/smallJob";
import { prepareJob } from "./operations/layers/compose";
import { NOBODY } from "../core/merge/frameShares";
import { SILENT } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const [W, H] = SMALL_JOB;
let node: NodeEngine;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
});

/** A bright window at the right edge, a third of the way down. */
const window = (x: number, y: number) => (x > W - 60 && y > 90 && y < 150 ? 1.6 : 0.08 * (1.2 + Math.sin(x / 9) * Math.cos(y / 7)));

it.each([
  ["right after registering", prepareRegistered, "reference"],
  ["after merging", prepareSmallJob, "picture"],
] as const)("a window that the edge cuts is told with its place %s, until the crop leaves it out", async (_, prepare, by) => {
  const records = setGeometry({ angleDeg: 0, crop: { x: 0, y: 0, width: W, height: H }, ratio: null })(await prepare(node, { light: window }));
  const found = await node.ask("inspectBorder", { records, by });
  expect(found.map((f) => [f.kind, findingTitle(f)])).toEqual([["edgeCut", "Something bright is cut by the right edge"]]);
  // the window is 91 to 149 of 300 px high, and 1.6 over 0.1 to 0.18 is 3.2 to 4 EV, 0.7 less in the reference, which is clipped there
  expect(findingSentence(found[0])).toMatch(/^From (29|30|31) % to (49|50|51) % of the right edge, counted from the top, (2\.[6-9]|3\.\d|4\.0) EV brighter/);
  expect(found[0].place!.y).toBeGreaterThan(85);
  expect(found[0].place!.x + found[0].place!.width).toBe(W);
  const without = setGeometry({ angleDeg: 0, crop: { x: 0, y: 0, width: W - 80, height: H }, ratio: null })(records);
  expect(await node.ask("inspectBorder", { records: without, by })).toEqual([]);
});

it("along a border that the darkest frame does not cover, what is burnt in the others is given by nobody and without colour; what they show stays", async () => {
  // burnt at 0 EV above the middle; the darkest frame ends 20 px from the left
  const records = await prepareSmallJob(node, { light: (_, y) => (y < H / 2 ? 3 : 0.1), matrices: [[1, 0, 20, 0, 1, 0, 0, 0, 1], IDENTITY, IDENTITY] });
  const { merge } = await prepareJob(node.ctx, records, SILENT);
  const at = (x: number, y: number) => {
    const out = new Float32Array(1);
    return [0, 1, 2].map((c) => (merge.picture.read(0, c, x, y, 1, 1, out), out[0]));
  };
  const givenBy = (x: number, y: number) => {
    const index = new Uint8Array(1);
    merge.dominant.read(0, 0, x, y, 1, 1, index);
    return index[0];
  };
  expect(givenBy(8, 60)).toBe(NOBODY);
  const [red, green, blue] = at(8, 60);
  expect(Math.max(Math.abs(red - green), Math.abs(blue - green))).toBeLessThan(1e-3);
  expect(givenBy(200, 60)).toBe(0);
  expect(givenBy(8, 250)).not.toBe(NOBODY);
  // where the darkest covers it gives the light, and where nothing is burnt the border is whole
  expect(at(200, 60)[1]).toBeGreaterThan(2);
  expect(at(8, 250)[1]).toBeGreaterThan(0.05);
});

it("in Compose the surround shows through where nobody gives light, but for what a layer lays there", async () => {
  const records = await prepareSmallJob(node, { light: (_, y) => (y < H / 2 ? 3 : 0.1), matrices: [[1, 0, 20, 0, 1, 0, 0, 0, 1], IDENTITY, IDENTITY] });
  const fill = { type: "fill" as const, red: 0.2, green: 0.6, blue: 0.3, grain: 0, grainPx: 2, ramp: null };
  // over the upper half of that border
  const box = [-1, -1, 15.5, -1, 15.5, 39.5, -1, 39.5];
  const part = { id: "box", combine: "add" as const, inverted: false, featherPx: 0, kind: "polygon" as const, points: box };
  const laid = addLayer({ id: "fill", name: "Fill", content: fill, mask: freshMask(0, [part]) })(records);
  const changed = addLayer({ id: "lift", name: "Lift", content: { type: "adjustment", adjustment: "exposure", values: { ev: 1 } } })(laid);
  const rect = { x: 0, y: 0, width: 60, height: 100 };
  const alphas = async (r: Records) => {
    const { rgba } = await node.ask("renderRect", { records: r, view: { kind: "compose" }, level: 0, rect, space: "srgb" });
    return [20, 60].map((y) => [8, 40].map((x) => rgba[(y * rect.width + x) * 4 + 3]));
  };
  expect(await alphas(records)).toEqual([
    [0, 255],
    [0, 255],
  ]);
  for (const r of [laid, changed])
    expect(await alphas(r)).toEqual([
      [255, 255],
      [0, 255],
    ]);
});
