/** What is looked for at 1:1 in a panorama, on views cut from a photograph by numpy, whose faults are planted. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { createNodeEngine, type NodeEngine } from "../../../src/cli/createNodeEngine";
import { gatherFiles } from "../../../src/cli/gatherFiles";
import { rotationAbout } from "../../../src/core/panorama/camera";
import { layOut } from "../../../src/core/panorama/layout";
import { multiply } from "../../../src/core/geometry/matrix3";
import { freshMerge, setMerge, takeMerge } from "../../../src/document/mergeEdits";
import { levelPinOf, setLevels, setPanorama, setPanoramaView } from "../../../src/document/panoramaEdits";
import type { Records } from "../../../src/document/records/types";
import { panoramaCamerasOf, panoramaOf } from "../../../src/document/selectors";
import type { PreparedPanorama } from "../../../src/engine/operations/panorama/preparePanorama";
import { cropOf } from "../../../src/engine/operations/panorama/preparePanorama";
import { prepareJob } from "../../../src/engine/operations/layers/compose";
import { inspectPanorama } from "../../../src/engine/operations/panorama/inspectPanorama";
import { SILENT } from "../../../src/engine/task";
import { runSupport, temporaryFolder } from "../../support/python";

const VIEWS = [
  [-20, 0.5, 0.4, 0],
  [0, -0.5, -0.5, 0],
  [20, 0.6, 0.3, 0],
];
const FOCAL = 1100;
let node: NodeEngine;
let found: PreparedPanorama;
let gathered: Records;

beforeAll(async () => {
  const folder = temporaryFolder();
  const photo = "/usr/share/backgrounds/picosdeeuropa_by_Aitzol_Berasategi.jpg";
  runSupport("panorama.py", ["make", folder, JSON.stringify({ photo, degrees: 110, masterWidth: 3264, size: [900, 680], focal: FOCAL, views: VIEWS })]);
  const truth = JSON.parse(readFileSync(join(folder, "truth.json"), "utf8")) as { frames: { file: string }[] };
  node = await createNodeEngine(process.cwd());
  const files = await gatherFiles(
    node,
    "inspected",
    truth.frames.map((f) => join(folder, f.file)),
    SILENT,
  );
  gathered = files.records;
  const frames = files.files.map((f) => f.frame!);
  found = await node.ask("preparePanorama", { frames, request: { focalPx: FOCAL, points: [], levels: [], bent: 0, projection: "cylindrical" } });
}, 120_000);

async function findings(records: Records) {
  const draft = freshMerge("panorama");
  const merged = takeMerge(draft, await node.ask("merge", { records: setMerge(draft)(records), method: "panorama" }))(records);
  return inspectPanorama(node.ctx, await prepareJob(node.ctx, merged, SILENT), SILENT);
}

it("a clean panorama has no doubled edge and a straight horizon", async () => {
  expect((await findings(setPanorama(found.registration, found.panorama)(gathered))).map((f) => f.kind)).toEqual([]);
}, 120_000);

it("a frame turned by 4 px shows its edges twice at both its seams, as far apart as it was turned", async () => {
  const turn = rotationAbout(4 / FOCAL, 0, 0);
  const frames = found.panorama.frames.map((f, i) => (i === 1 ? { ...f, rotation: multiply(turn, f.rotation!) } : f));
  const doubled = (await findings(setPanorama(found.registration, { ...found.panorama, frames })(gathered))).filter((f) => f.kind === "doubledEdge");
  expect(doubled.map((f) => f.id).sort()).toEqual(["doubled-1-2", "doubled-2-3"]);
  for (const { weight } of doubled) expect(Math.abs(weight - 4)).toBeLessThan(0.8);
}, 120_000);

it("skies and reeds that fit show no edge twice: four frames of the demo, their border bent", async () => {
  const files = [1, 2, 5, 6].map((i) => `demo/landing/landing-${i}.jpg`);
  const { records, files: all } = await gatherFiles(node, "landing", files, SILENT);
  const frames = all.map((f) => f.frame!);
  const laid = await node.ask("preparePanorama", { frames, request: { focalPx: 1290, points: [], levels: [], bent: 1, projection: null } });
  const kinds = (await findings(setPanorama(laid.registration, laid.panorama)(records))).map((f) => f.kind);
  expect(kinds.filter((k) => k === "doubledEdge")).toEqual([]);
}, 240_000);

it("a pitched cylinder bows the horizon, and a line said to be level shows that it leans", async () => {
  const laid = setPanorama(found.registration, found.panorama)(gathered);
  const cameras = panoramaCamerasOf(laid);
  const shown = (change: object, records: Records) => {
    const view = layOut(cameras, { ...found.panorama.view, ...change }, "cylindrical")!;
    return setPanoramaView(view, cropOf(view, cameras, null, []))(records);
  };
  // small enough that the horizon stays in the picture
  const pitched = await findings(shown({ pitchDeg: found.panorama.view.pitchDeg + 6 }, laid));
  expect(pitched.map((f) => f.kind)).toEqual(["bowedHorizon"]);
  const level = found.panorama.view;
  const rotation = (deg: number) => [Math.sin((deg * Math.PI) / 180), 0, Math.cos((deg * Math.PI) / 180)] as [number, number, number];
  const turned = shown({ rollDeg: level.rollDeg + 1, pitchDeg: 0 }, laid);
  expect(panoramaOf(turned)!.levels).toEqual([]);
  const pin = levelPinOf(turned, { kind: "level", a: rotation(-15), b: rotation(18) })!;
  const leaning = (await findings(setLevels([pin])(turned))).find((f) => f.kind === "leaningHorizon")!;
  expect(leaning.weight).toBeGreaterThan(0.15);
}, 240_000);
