/** Parts from other frames and pictures laid over, as steps of a job: what comes late goes where it belongs or nowhere, and nothing that was made is lost for a picture beside. */
import { written } from "../messages/message";
import { openTabs, settle, type Tab } from "../../tests/support/tabs";
import { newFrame } from "../../tests/support/records";
import { addFrames, setRegistration, unmovedRegistration } from "../document/edits";
import { removeLayer } from "../document/removal";
import { addLayer } from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import type { LayerRecord } from "../document/records/layerTypes";
import { framesOf, layerOf, layersOf, mergeOf, setsOf, swapsOf, workingSetIdOf } from "../document/selectors";
import { takenFrom } from "../document/swapEdits";
import { UNMOVED, wholeFrame, type FrameFit } from "../kinds/contents/frame/record";

const tab = openTabs();
const state = (t: Tab) => t.store.useSession.getState();
const swaps = (t: Tab) => swapsOf(state(t).records);
const frames = (t: Tab) => framesOf(state(t).records);
const BOX = { x: 20, y: 30, width: 90, height: 60 };
const FIT: FrameFit = { joint: null, residualPx: 0.2, agreeing: 0.9, lightEv: -0.1, redEv: 0, blueEv: 0 };
const CELLS = { kind: "cells" as const, cellPx: 2, runs: [20, 12, 40] };

/** A job of three frames, built on the first. */
async function jobOf(t: Tab): Promise<void> {
  await t.jobs.newJob("A");
  const made = Array.from({ length: 3 }, (_, i) => newFrame({ fileName: `${i}.jpg`, sourceId: `${i}`.padStart(64, "0") }));
  const build = (r: ReturnType<ReturnType<typeof addFrames>>) => {
    const taken = framesOf(r);
    return setMerge(freshMerge("base", { baseId: taken[0].id }))(setRegistration(unmovedRegistration(taken, taken[0], 1), {})(r));
  };
  t.open.edit((r) => build(addFrames(made)(r)), { stage: "gather", label: written("frames") });
  await settle();
}

const ranking = (t: Tab) => ({
  ofScene: true,
  frames: frames(t).map((f, i) => ({ frameId: f.id, sharpness: [0.1, 0.3, 0.2][i], lightEv: 0, clipped: 0, covered: 0, ripple: 0, found: BOX })),
});

async function drawn(t: Tab): Promise<string> {
  const drawing = t.actions.drawPart(BOX, "Part 1");
  await settle();
  await t.last("rankFrames").answer(ranking(t));
  return (await drawing)!;
}

async function taken(t: Tab, frame: number): Promise<void> {
  const taking = t.actions.takeFrom(swaps(t)[0], frames(t)[frame].id);
  await settle();
  await t.last("fitPart").answer({ content: wholeFrame(frames(t)[frame].id, { moved: UNMOVED, fit: FIT }), cells: CELLS });
  await taking;
}

it("a part is drawn with what every frame shows, and a box that is too small is none", async () => {
  const t = await tab();
  await jobOf(t);
  const id = await drawn(t);
  expect(swaps(t)).toMatchObject([{ id, name: "Part 1", box: BOX, joint: null, layerId: null }]);
  expect(swaps(t)[0].looks.map((l) => l.sharpness)).toEqual([0.1, 0.3, 0.2]);
  expect(await t.actions.drawPart({ x: 0, y: 0, width: 5, height: 90 }, "Part 2")).toBeNull();
  expect([swaps(t).length, t.notices()[0]]).toEqual([1, "The box is too small: drag over more of the picture."]);
});

it("a part is taken in one step, goes in one, and the fit is asked of the job with its layer", async () => {
  const t = await tab();
  await jobOf(t);
  await drawn(t);
  const steps = state(t).history.steps.length;
  await taken(t, 1);
  expect(state(t).history.steps.length).toBe(steps + 1);
  expect(takenFrom(state(t).records, swaps(t)[0])).toBe(frames(t)[1].id);
  expect(layersOf(state(t).records)[0]).toMatchObject({ content: { fit: FIT }, seamPx: 6 });
  await t.actions.takeFrom(swaps(t)[0], null);
  expect([layersOf(state(t).records), swaps(t)[0].layerId]).toEqual([[], null]);
  // a layer that somebody removes by itself leaves the part as it is
  await taken(t, 2);
  t.open.edit(removeLayer(swaps(t)[0].layerId!), { stage: "compose", label: written("gone") });
  expect(takenFrom(state(t).records, swaps(t)[0])).toBeNull();
});

it("what was fitted for another box is dropped, and said; what nothing fits changes nothing", async () => {
  const t = await tab();
  await jobOf(t);
  await drawn(t);
  const taking = t.actions.takeFrom(swaps(t)[0], frames(t)[1].id);
  await settle();
  const fitting = t.last("fitPart");
  t.open.edit((r) => ({ ...r, [swaps(t)[0].id]: { ...swaps(t)[0], box: { ...BOX, x: 50 } } }), { stage: "compose", label: written("moved") });
  await fitting.answer({ content: wholeFrame(frames(t)[1].id), cells: CELLS });
  await taking;
  expect(layersOf(state(t).records)).toEqual([]);
  expect(t.notices().some((n) => /frame 2/.test(n))).toBe(true);
  const again = t.actions.takeFrom(swaps(t)[0], frames(t)[1].id);
  await settle();
  await t.last("fitPart").fail(Object.assign(new Error("swap.nothingFits"), { name: "Refusal" }));
  await again;
  expect([layersOf(state(t).records), state(t).busy]).toEqual([[], null]);
});

it("a joint that is drawn fits a part that is taken anew, with the joint; one that is not taken waits", async () => {
  const t = await tab();
  await jobOf(t);
  await drawn(t);
  const joint = { x: 60, y: 40, width: 30, height: 20 };
  await t.actions.drawJoint(swaps(t)[0], joint);
  expect([swaps(t)[0].joint, t.asked.filter((a) => a.name === "fitPart")]).toEqual([joint, []]);
  await taken(t, 1);
  const wider = { ...joint, width: 50 };
  const drawing = t.actions.drawJoint(swaps(t)[0], wider);
  await settle();
  const asked = t.last("fitPart");
  expect(asked.params).toMatchObject({ joint: wider, box: BOX });
  await asked.answer({ content: wholeFrame(frames(t)[1].id, { fit: { ...FIT, joint: wider } }), cells: CELLS });
  await drawing;
  expect(layersOf(state(t).records)).toMatchObject([{ content: { fit: { joint: wider } } }]);
});

it("the best of each is taken where nothing was chosen, and the base is taken by leaving a part as it is", async () => {
  const t = await tab();
  await jobOf(t);
  await drawn(t);
  const best = t.actions.takeBest();
  await settle();
  const asked = t.last("fitPart");
  expect((asked.params.records as Record<string, LayerRecord>)[asked.params.layerId as string].content).toMatchObject({ frameId: frames(t)[1].id });
  await asked.answer({ content: wholeFrame(frames(t)[1].id), cells: CELLS });
  await best;
  expect(takenFrom(state(t).records, swaps(t)[0])).toBe(frames(t)[1].id);
  expect(t.actions.builtOn(state(t).records)).toBe(frames(t)[0].id);
  await t.actions.takeBest();
  expect(t.asked.filter((a) => a.name === "fitPart")).toEqual([]);
});

it("stopping one part of many stops all of them", async () => {
  const t = await tab();
  await jobOf(t);
  await drawn(t);
  await drawn(t);
  const best = t.actions.takeBest();
  await settle();
  state(t).busy!.stop();
  await best;
  expect([layersOf(state(t).records), state(t).busy, t.asked.filter((a) => a.name === "fitPart" && !a.signal?.aborted)]).toEqual([[], null, []]);
});

it("what was painted on a part stays where that is taken anew; boxes go where the reference is another", async () => {
  const t = await tab();
  await jobOf(t);
  await drawn(t);
  await taken(t, 1);
  const painted = () => layersOf(state(t).records)[0].mask.parts.find((p) => p.kind === "painted")!;
  const before = painted();
  await taken(t, 2);
  expect(painted()).toBe(before);
  expect(layersOf(state(t).records)[0].mask.parts.map((p) => p.kind)).toEqual(["cells", "painted"]);
  const same = setRegistration(unmovedRegistration(frames(t), frames(t)[0], 1), {})(state(t).records);
  const other = setRegistration(unmovedRegistration(frames(t), frames(t)[1], 1), {})(state(t).records);
  expect([swapsOf(same).length, swapsOf(other).length, layersOf(other).length]).toEqual([1, 0, 1]);
});

it("a picture that is laid over stands by itself: the merge stays, and it is fitted as a step", async () => {
  const t = await tab();
  await jobOf(t);
  const merge = mergeOf(state(t).records);
  const gathering = t.actions.gatherBeside([{ name: "later.jpg", file: new Blob(["x"]) }]);
  await settle();
  await t.last("gatherFile").answer(newFrame({ fileName: "later.jpg", sourceId: "9".repeat(64) }));
  const [id] = await gathering;
  expect(mergeOf(state(t).records)).toBe(merge);
  const frame = frames(t).find((f) => f.id === id)!;
  expect(frame.setId).not.toBe(workingSetIdOf(state(t).records));
  expect(setsOf(state(t).records).find((s) => s.id === frame.setId)).toMatchObject({ setKind: "single", by: "hand" });
  t.open.edit(addLayer({ id: "l", name: "Later", content: wholeFrame(id) }), { stage: "compose", label: written("laid") });
  const fitting = t.actions.fitLayer(layerOf(state(t).records, "l")!);
  await settle();
  await t.last("fitFrame").answer({ moved: { ...UNMOVED, dx: 12 }, fit: FIT });
  await fitting;
  expect(layerOf(state(t).records, "l")).toMatchObject({ content: { moved: { dx: 12 }, fit: FIT } });
  // one of another view stays where it is
  const other = t.actions.fitLayer(layerOf(state(t).records, "l")!);
  await settle();
  await t.last("fitFrame").answer(null);
  await other;
  expect(layerOf(state(t).records, "l")).toMatchObject({ content: { moved: { dx: 12 } } });
  expect(t.notices().at(-1)).toMatch(/does not show the same view/);
});

it("a picture with alpha joins no set that has frames", async () => {
  const t = await tab();
  await jobOf(t);
  const merge = mergeOf(state(t).records);
  t.open.edit(addFrames([newFrame({ fileName: "cut.tif", sourceId: "8".repeat(64), alpha: "straight" })]), { stage: "gather", label: written("frames") });
  expect(mergeOf(state(t).records)).toBe(merge);
  expect(setsOf(state(t).records).map((s) => s.setKind)).toContain("cutout");
});
