/** This year's bracket brought to last year's finished picture of the view, against what last year's finish truly makes of this year's frame (scripts/scenes/twoSeptembers.py). */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { createNodeEngine, type NodeEngine } from "../../../src/cli/createNodeEngine";
import { gatherFiles } from "../../../src/cli/gatherFiles";
import { writeParts } from "../../../src/cli/writeParts";
import { invert, project } from "../../../src/core/geometry/matrix3";
import { addPin, setGeometry, setRegistration } from "../../../src/document/edits";
import { setFinish } from "../../../src/document/finishEdits";
import { addLayer, updateLayer } from "../../../src/document/layerEdits";
import { layPictureMatch, sameWithoutLook, withoutLook } from "../../../src/document/matchEdits";
import { freshMerge, setMerge } from "../../../src/document/mergeEdits";
import { checkRecord } from "../../../src/document/parseDocument";
import type { FrameRecord, Records } from "../../../src/document/records/types";
import { removeFrame } from "../../../src/document/removal";
import { childrenOf, finishGroupOf, lookOf, pairsOf } from "../../../src/document/selectors";
import type { MatchMethod } from "../../../src/engine/operations/match/matchPictures";
import { SILENT } from "../../../src/engine/task";
import { message } from "../../../src/messages/message";
import { runPython, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
const DEMO = "demo/septembers";
let node: NodeEngine;
let merged: Records;
let last: FrameRecord;

beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), undefined, 1);
  const gathered = await gatherFiles(
    node,
    "septembers",
    [1, 2, 3, 4].map((i) => join(DEMO, `septembers-${i}.jpg`)),
    SILENT,
  );
  const frames = gathered.files.map((f) => f.frame!);
  last = frames[3];
  const request = { referenceId: frames[1].id, referenceReason: message("reference.byHand", {}), model: "auto" as const };
  const bracket = frames.slice(0, 3);
  const { registration, measuredEv } = await node.ask("register", { records: gathered.records, frames: bracket, request });
  const whole = { x: 0, y: 0, width: 1800, height: 1200 };
  merged = setGeometry({ angleDeg: 0, crop: whole, ratio: null })(
    setMerge(freshMerge("radiance"))(setRegistration(registration, measuredEv)(gathered.records)),
  );
});

const matched = (records: Records, method: MatchMethod | null = null) => node.ask("matchOutput", { records, referenceId: last.id, method });

/** Mean ΔE2000 against the truth, away from the borders that not all frames of the bracket show. */
async function missed(records: Records, name: string): Promise<number> {
  const settings = { format: "tiff16", quality: 95, space: "srgb", content: "finished", crop: false } as const;
  const { parts } = await node.ask("exportPicture", { records, settings });
  writeParts(join(folder, name), parts);
  return runPython<number>(
    `
import cv2, json, sys
from skimage.color import rgb2lab, deltaE_ciede2000
a, b = cv2.imread(sys.argv[1], cv2.IMREAD_UNCHANGED)[..., :3] / 65535.0, cv2.imread(sys.argv[2]) / 255.0
a = cv2.resize(a, b.shape[1::-1], interpolation=cv2.INTER_AREA)
print(json.dumps(float(deltaE_ciede2000(rgb2lab(a[12:-12, 12:-12, ::-1]), rgb2lab(b[12:-12, 12:-12, ::-1])).mean())))`,
    [join(folder, name), join(DEMO, "wanted.jpg")],
  );
}

const lookFrom = (adjustments: Parameters<typeof layPictureMatch>[0], strength = 1) =>
  layPictureMatch(
    adjustments,
    adjustments.map(({ adjustment }) => adjustment),
    "Look",
    strength,
  );

it("is found to show the same view, and comes to its look place by place", async () => {
  const told = await matched(merged);
  expect(told.method).toBe("places");
  expect(told.deltaE!.before).toBeGreaterThan(10);
  const looked = lookFrom(told.adjustments)(merged);
  const [before, after] = [await missed(merged, "before.tif"), await missed(looked, "after.tif")];
  expect(before).toBeGreaterThan(10);
  // the merge has light that last year's frame had clipped, and is a frame of another moment's noise
  expect(after).toBeLessThan(3);
  expect(after).toBeLessThan(0.2 * before);
  // what it tells is what is there
  expect(Math.abs(told.deltaE!.after - after)).toBeLessThan(1);
});

it("six pairs of places bring it most of the way, each with what it leaves; pairs of a reference go with it", async () => {
  const { lastToReference } = JSON.parse(readFileSync(join(DEMO, "truth.json"), "utf8")) as { lastToReference: number[][] };
  const toLast = invert(lastToReference.flat());
  // sky, water, grass in light and in shade, planks, the shed's wall
  const paired = [
    [300, 200],
    [1300, 620],
    [500, 1050],
    [380, 760],
    [850, 1000],
    [520, 560],
  ].reduce((r, [x, y]) => {
    const [u, v] = project(toLast, x, y);
    return addPin({ purpose: "pair", x, y, radius: 4, target: null, frameId: last.id, like: { x: Math.round(u), y: Math.round(v) } })(r);
  }, merged);
  for (const pin of pairsOf(paired, last.id)) expect(checkRecord(pin)).toBeUndefined();
  const told = await matched(paired, "pairs");
  expect(told.method).toBe("pairs");
  expect(told.residuals).toHaveLength(6);
  const [before, after] = [await missed(merged, "before.tif"), await missed(lookFrom(told.adjustments)(paired), "pairs.tif")];
  process.stdout.write(`six pairs: ${before} to ${after}, left ${JSON.stringify(told.residuals)}\n`);
  expect(after).toBeLessThan(0.4 * before);
  expect(Math.max(...told.residuals)).toBeLessThan(before);
  await expect(matched(merged, "pairs")).rejects.toMatchObject({ code: "unclear" });
  expect(pairsOf(removeFrame(last.id)(paired), last.id)).toEqual([]);
});

it("in steps it comes less far, and says so", async () => {
  const told = await matched(merged, "steps");
  expect(told.steps.map((s) => s.step)).toContain("tone");
  const after = await missed(lookFrom(told.adjustments)(merged), "steps.tif");
  expect(after).toBeLessThan(0.75 * (await missed(merged, "before.tif")));
});

it("the look lies on top of the finish, whatever is laid or set after it, and is compared without itself", async () => {
  const told = await matched(merged, "steps");
  const looked = lookFrom(told.adjustments, 0.6)(merged);
  for (const record of Object.values(looked)) expect(checkRecord(record)).toBeUndefined();
  expect(lookOf(looked)!.opacity).toBe(0.6);
  const later = setFinish("contrast", { factor: 1.2 })(addLayer({ name: "Later", content: { type: "fill", color: [1, 1, 1] } as never })(looked));
  const finish = childrenOf(later, finishGroupOf(later)!.id);
  expect(finish.at(-1)!.name).toBe("Look");
  expect(childrenOf(later, null).at(-1)!.id).toBe(finishGroupOf(later)!.id);
  expect(sameWithoutLook(merged, withoutLook(looked))).toBe(finishGroupOf(merged) !== undefined);
  expect(sameWithoutLook(looked, updateLayer(lookOf(looked)!.id, { opacity: 0.2 })(looked))).toBe(true);
  expect(sameWithoutLook(looked, later)).toBe(false);
  // laid again, it takes the place of the one before
  const again = lookFrom(told.adjustments.slice(0, 1))(looked);
  expect(childrenOf(again, lookOf(again)!.id)).toHaveLength(1);
  expect(await matched(looked, "steps")).toEqual(told);
});
