/** A series of four frames of the marsh, three of them hand-held, developed otherwise and turned a little: evened to the first, against what was done to them. The transform is exposure and gains of red and blue on linear light, made in Python. */
import { join } from "node:path";
import { createNodeEngine, type NodeEngine } from "../../../src/cli/createNodeEngine";
import { gatherFiles } from "../../../src/cli/gatherFiles";
import { developFrames } from "../../../src/document/edits";
import type { FrameRecord, Records } from "../../../src/document/records/types";
import { framesOf } from "../../../src/document/selectors";
import type { EvenedFrame } from "../../../src/engine/operations/match/evenFrames";
import { SILENT } from "../../../src/engine/task";
import { runPython, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
/** EV, and red and blue against green, of each frame. */
const DONE = [
  [0, 1, 1],
  [0.8, 1.12, 0.85],
  [-0.9, 0.9, 1.15],
  [0.3, 1.05, 1.05],
];
let node: NodeEngine;
let records: Records;
let frames: FrameRecord[];

beforeAll(async () => {
  runPython(
    `
import cv2, json, sys, numpy as np
folder, done = sys.argv[1], json.loads(sys.argv[2])
a = cv2.imread('demo/jetty/jetty-1.jpg')[..., ::-1] / 255.0
l = 0.5 * np.where(a <= 0.04045, a / 12.92, ((a + 0.055) / 1.055) ** 2.4)
h, w = l.shape[:2]
for k, (ev, red, blue) in enumerate(done):
    m = cv2.getRotationMatrix2D((w / 2, h / 2), 0.4 * k, 1.0); m[:, 2] += [5.5 * k, -3.5 * k]
    v = cv2.warpAffine(l, m, (w, h), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT) * 2.0 ** ev * np.array([red, 1, blue])
    if k == 3: v[h // 3 : h // 2, w // 4 : w // 2] = [0.05, 0.2, 0.05]
    v = np.clip(v, 0, 1)
    e = np.where(v <= 0.0031308, 12.92 * v, 1.055 * np.maximum(v, 1e-9) ** (1 / 2.4) - 0.055)
    cv2.imwrite(f'{folder}/series-{k + 1}.png', np.round(e[..., ::-1] * 255).astype(np.uint8))
print('{}')`,
    [folder, JSON.stringify(DONE)],
  );
  node = await createNodeEngine(process.cwd(), undefined, 1);
  const gathered = await gatherFiles(
    node,
    "series",
    DONE.map((_, k) => join(folder, `series-${k + 1}.png`)),
    SILENT,
  );
  records = gathered.records;
  frames = gathered.files.map((f) => f.frame!);
});

const evened = async (given: Records): Promise<EvenedFrame[]> => {
  const now = framesOf(given);
  return (await node.ask("evenFrames", { records: given, frames: now, to: now[0], exposureKept: [] })) as EvenedFrame[];
};

it("each comes to the first within 1.2 ΔE in the mean, exposure within 0.12 EV, though something moved in one and all are turned", async () => {
  const told = await evened(records);
  process.stdout.write(`series of four: ${JSON.stringify(told.map(({ exposureEv, mired, duv, before, after }) => [exposureEv, mired, duv, before, after]))}\n`);
  expect(told.map((t) => t.frameId)).toEqual(frames.slice(1).map((f) => f.id));
  told.forEach(({ exposureEv, before, after, by }, k) => {
    expect(by).toBe("places");
    expect(Math.abs(exposureEv + DONE[k + 1][0])).toBeLessThan(0.12);
    expect(after).toBeLessThan(before);
    // what moved in the last stays apart
    if (k < 2) expect(after).toBeLessThan(1.2);
  });
  // developed so, nothing is lacking any more
  const developed = told.reduce((r, { frameId, exposureEv, mired, duv }) => developFrames([frameId], { exposureEv, mired, duv })(r), records);
  const again = await evened(developed);
  again.forEach((t, k) => {
    expect([t.exposureEv, t.mired, t.duv]).toEqual([told[k].exposureEv, told[k].mired, told[k].duv]);
    expect(t.before).toBeCloseTo(t.after, 5);
  });
});

it("where exposure is kept only the balance is told, and compared at equal exposure", async () => {
  const [, second] = frames;
  const [told] = (await node.ask("evenFrames", { records, frames: [frames[0], second], to: frames[0], exposureKept: [second.id] })) as EvenedFrame[];
  expect(told.exposureEv).toBe(0);
  expect(told.mired).toBeLessThan(-15);
  expect(told.after).toBeLessThan(1.2);
  expect(told.before).toBeGreaterThan(2);
});

it("a frame of something else is evened by its tones, and one that is all black tells nothing", async () => {
  runPython(
    `
import cv2, sys, numpy as np
a = cv2.imread('demo/barometer/barometer-3.jpg'); cv2.imwrite(f'{sys.argv[1]}/other.png', a)
cv2.imwrite(f'{sys.argv[1]}/black.png', np.zeros((400, 600, 3), np.uint8))
print('{}')`,
    [folder],
  );
  const gathered = await gatherFiles(node, "other", [join(folder, "series-1.png"), join(folder, "other.png"), join(folder, "black.png")], SILENT);
  const [first, other, black] = gathered.files.map((f) => f.frame!);
  const told = await node.ask("evenFrames", { records: gathered.records, frames: [first, other, black], to: first, exposureKept: [] });
  expect(told[0]).toMatchObject({ frameId: other.id, by: "tones" });
  expect(told[1]).toEqual({ frameId: black.id, why: "tellsNothing" });
  await expect(node.ask("evenFrames", { records: gathered.records, frames: [first, black], to: black, exposureKept: [] })).rejects.toMatchObject({
    code: "unclear",
  });
});
