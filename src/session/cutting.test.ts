/** Cut-outs and added light as steps of a job: what is stopped is not told any more, and what is found late goes where it belongs or nowhere. */
import { written } from "../messages/message";
import { openTabs, settle, type Tab } from "../../tests/support/tabs";
import { newFrame } from "../../tests/support/records";
import { addFrames, unmovedRegistration } from "../document/edits";
import { removeLayer } from "../document/removal";
import { addLayer, paintedMask } from "../document/layerEdits";
import type { LayerRecord } from "../document/records/layerTypes";
import { framesOf, layerOf, mergeOf, registrationOf } from "../document/selectors";
import { MOST_MARKS, type CutMark, type FrameContent, wholeFrame } from "../kinds/contents/frame/record";

const tab = openTabs();
const state = (t: Tab) => t.store.useSession.getState();
const layer = (t: Tab) => layerOf(state(t).records, "l")!;
const content = (t: Tab) => layer(t).content as FrameContent;
const BOX = { x: 10, y: 10, width: 50, height: 40 };

/** A job of some frames, the second of them laid as a layer, concealed. */
async function jobOf(t: Tab, n: number): Promise<void> {
  await t.jobs.newJob("A");
  const made = Array.from({ length: n }, (_, i) => newFrame({ fileName: `${i}.jpg`, sourceId: `${i}`.padStart(64, "0") }));
  t.open.edit(addFrames(made), { stage: "gather", label: written("frames") });
  const frameId = framesOf(state(t).records)[Math.min(1, n - 1)].id;
  const whole = wholeFrame(frameId);
  t.open.edit(addLayer({ id: "l", name: "L", content: whole, mask: paintedMask(0) }), { stage: "compose", label: written("laid") });
  await settle();
}

it("a single frame is the picture as it is, and goes on to its layers; where its merge fails the stage stays", async () => {
  for (const fails of [true, false]) {
    const t = await tab();
    await jobOf(t, 1);
    t.open.setStage("register");
    const taking = t.actions.takeOneFrame();
    await settle();
    expect(registrationOf(state(t).records)?.placements).toHaveLength(1);
    const merging = t.last("merge");
    await (fails ? merging.fail(new Error("no")) : merging.answer({ shares: {}, own: {}, ghosts: null }));
    await taking;
    expect([mergeOf(state(t).records)?.method, state(t).stage]).toEqual(fails ? [undefined, "register"] : ["base", "compose"]);
  }
});

it("a cut begins as light, wholly revealed where nothing was painted, and ends with the frame as it was", async () => {
  const t = await tab();
  await jobOf(t, 2);
  t.actions.beginCut(layer(t));
  expect([layer(t).blendIn, layer(t).mask.base, content(t).cut?.box]).toEqual(["light", 1, null]);
  t.actions.endCut(layer(t));
  expect(content(t).cut).toBeNull();
});

it("a box is looked into with progress; where that is stopped it is drawn anew, and where nothing is found it stays", async () => {
  const t = await tab();
  await jobOf(t, 2);
  t.actions.beginCut(layer(t));
  const told = t.actions.tellCut(layer(t), { box: BOX }, written("box"));
  await settle();
  expect(state(t).busy).not.toBeNull();
  state(t).busy!.stop();
  await told;
  expect(content(t).cut?.box).toBeNull();
  const again = t.actions.tellCut(layer(t), { box: BOX }, written("box"));
  await settle();
  await t.last("readyCut").fail(Object.assign(new Error("nothing"), { name: "Refusal" }));
  await again;
  expect([content(t).cut?.box, state(t).busy, t.notices()]).toEqual([BOX, null, []]);
});

it("a search that another task takes the place of, or that closing the job ends, leaves the box", async () => {
  const t = await tab();
  await jobOf(t, 2);
  t.actions.beginCut(layer(t));
  const told = t.actions.tellCut(layer(t), { box: BOX }, written("box"));
  await settle();
  const other = t.open.runTask("compose", "task.looking", (signal) => new Promise<void>((go) => signal.addEventListener("abort", () => go())));
  await told;
  expect(content(t).cut?.box).toEqual(BOX);
  state(t).busy!.stop();
  await other;
  const a = state(t).jobId!;
  const again = t.actions.tellCut(layer(t), { box: { ...BOX, width: 30 } }, written("box"));
  await settle();
  await t.jobs.newJob("B");
  await again;
  await t.jobs.openStoredJob(a);
  expect(content(t).cut?.box).toEqual({ ...BOX, width: 30 });
});

it("what is stopped of a box that was changed meanwhile changes nothing", async () => {
  const t = await tab();
  await jobOf(t, 2);
  t.actions.beginCut(layer(t));
  const told = t.actions.tellCut(layer(t), { box: BOX }, written("box"));
  await settle();
  const other = { ...BOX, width: 20 };
  t.actions.setCut(layer(t), { box: other }, written("other"));
  state(t).busy!.stop();
  await told;
  expect(content(t).cut?.box).toEqual(other);
});

it("strokes are added up to their limit, and one more is refused with a sentence", async () => {
  const t = await tab();
  await jobOf(t, 2);
  t.actions.beginCut(layer(t));
  const mark: CutMark = { what: "keep", diameterPx: 5, points: [1, 1] };
  t.actions.addMarks(layer(t), Array(MOST_MARKS).fill(mark), written("many"));
  expect(content(t).cut?.marks).toHaveLength(MOST_MARKS);
  t.actions.addMarks(layer(t), [mark], written("one more"));
  expect(content(t).cut?.marks).toHaveLength(MOST_MARKS);
  expect(t.notices().join()).toMatch(/400 strokes/);
});

it("a plate is registered onto the frame; where its layer or its frame is gone by then, it is dropped", async () => {
  const t = await tab();
  await jobOf(t, 3);
  t.actions.beginCut(layer(t));
  const [, frame, plate] = framesOf(state(t).records);
  const matrix = [1, 0, 3, 0, 1, -2, 0, 0, 1];
  const registration = unmovedRegistration([frame, plate], frame, 1);
  const found = { registration: { ...registration, placements: registration.placements.map((p) => ({ ...p, matrix })) }, measuredEv: {} };
  const cutting = t.actions.cutByPlate(layer(t), plate.id);
  await settle();
  await t.last("register").answer(found);
  await t.last("readyCut").answer(undefined);
  await cutting;
  expect(content(t).cut).toMatchObject({ by: "plate", plateId: plate.id, plateMatrix: matrix });
  const again = t.actions.cutByPlate(layer(t), plate.id);
  await settle();
  const asked = t.last("register");
  t.open.edit(removeLayer("l"), { stage: "compose", label: written("gone") });
  await asked.answer(found);
  await again;
  expect(layerOf(state(t).records, "l")).toBeUndefined();
});

it("only the light of a frame is added once its black is measured, and not to a layer that is gone", async () => {
  const t = await tab();
  await jobOf(t, 2);
  const adding = t.actions.addAsLight(layer(t));
  await settle();
  await t.last("measureBlack").answer([0.01, 0.02, 0.03]);
  await adding;
  expect([content(t).light?.black, layer(t).mode, layer(t).mask.base]).toEqual([[0.01, 0.02, 0.03], "add", 1]);
  t.actions.endLight(layer(t));
  expect([content(t).light, layer(t).mode]).toEqual([null, "normal"]);
  const late = t.actions.addAsLight(layer(t) as LayerRecord);
  await settle();
  const asked = t.last("measureBlack");
  t.open.edit(removeLayer("l"), { stage: "compose", label: written("gone") });
  await asked.answer([0, 0, 0]);
  await late;
  expect(layerOf(state(t).records, "l")).toBeUndefined();
});
