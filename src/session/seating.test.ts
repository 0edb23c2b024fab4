/** Plates and seats as steps of a job: what comes late goes where it belongs or nowhere. */
import { written } from "../messages/message";
import { openTabs, settle, type Tab } from "../../tests/support/tabs";
import { newFrame } from "../../tests/support/records";
import { addFrames, setRegistration, unmovedRegistration } from "../document/edits";
import { removeLayer } from "../document/removal";
import { addLayer } from "../document/layerEdits";
import { addSeat, changeSeat, pulledHorizon, tellPlate } from "../document/seatEdits";
import { reflectionOf } from "../document/reflectionEdits";
import { contactOf, shadowOf } from "../document/shadowEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import { framesOf, layerOf, plateOf, seatsOf } from "../document/selectors";
import { wholeFrame } from "../kinds/contents/frame/record";

const tab = openTabs();
const state = (t: Tab) => t.store.useSession.getState();
const records = (t: Tab) => state(t).records;
const FOUND = {
  stance: { pitchDeg: -4, rollDeg: 0.5, focalPx: 1100 },
  focalFrom: "directions" as const,
  vanishing: [{ of: "level" as const, azimuthDeg: 12, lines: 40 }],
  horizonSigmaDeg: 0.1,
  focalSigma: 0.01,
  lines: [],
};
const FEET = { footX: 50, footY: 90, topX: 50, topY: 5 };

/** A job of a plate and a picture that a layer shows. */
async function jobOf(t: Tab): Promise<void> {
  await t.jobs.newJob("A");
  const made = [0, 1].map((i) => newFrame({ fileName: `${i}.jpg`, sourceId: `${i}`.padStart(64, "0") }));
  t.open.edit(
    (r) => {
      const added = addFrames(made)(r);
      const [plate, other] = framesOf(added);
      const built = setMerge(freshMerge("base", { baseId: plate.id }))(setRegistration(unmovedRegistration([plate], plate, 1), {})(added));
      return addLayer({ id: "l", name: "Heron", content: wholeFrame(other.id) })(built);
    },
    { stage: "gather", label: written("frames") },
  );
  await settle();
}

it("what lines tell is one step, taken back at once", async () => {
  const t = await tab();
  await jobOf(t);
  const finding = t.actions.findPlateLines();
  await settle();
  await t.last("findPlate").answer(FOUND);
  await finding;
  expect(plateOf(records(t))).toMatchObject({ stance: FOUND.stance, horizonBy: "found", focalBy: "directions" });
  t.open.undo();
  expect(plateOf(records(t))).toBeUndefined();
});

it("where lines do not tell that is said, and nothing changes", async () => {
  const t = await tab();
  await jobOf(t);
  const before = records(t);
  const finding = t.actions.findPlateLines();
  await settle();
  await t.last("findPlate").answer(null);
  await finding;
  expect(records(t)).toBe(before);
  expect(t.notices().join()).toMatch(/do not tell its horizon/);
});

it("found too late, of another reference, it is dropped", async () => {
  const t = await tab();
  await jobOf(t);
  const finding = t.actions.findPlateLines();
  await settle();
  const [plate, other] = framesOf(records(t));
  t.open.edit(setRegistration(unmovedRegistration([plate, other], other, 1), {}), { stage: "register", label: written("other") });
  await t.last("findPlate").answer(FOUND);
  await finding;
  expect(plateOf(records(t))).toBeUndefined();
});

it("found while the horizon was pulled by hand, it does not go over that", async () => {
  const t = await tab();
  await jobOf(t);
  const finding = t.actions.findPlateLines();
  await settle();
  t.open.edit(pulledHorizon({ pitchDeg: 2, rollDeg: 0, focalPx: 900 }), { stage: "compose", label: written("pulled") });
  await t.last("findPlate").answer(FOUND);
  await finding;
  expect(plateOf(records(t))).toMatchObject({ horizonBy: "hand", stance: { pitchDeg: 2 } });
});

it("the person's lens stays when lines are found, and is what they are looked for with", async () => {
  const t = await tab();
  await jobOf(t);
  t.open.edit(tellPlate({ stance: { pitchDeg: 0, rollDeg: 0, focalPx: 900 }, focalBy: "hand", focalSigma: 0.02 }), {
    stage: "compose",
    label: written("lens"),
  });
  const finding = t.actions.findPlateLines();
  await settle();
  // so surely that fitting does not move it
  expect(t.last("findPlate").params.focal).toEqual({ px: 900, sigma: 1e-4 });
  await t.last("findPlate").answer({ ...FOUND, focalFrom: "known" });
  await finding;
  expect(plateOf(records(t))!.focalBy).toBe("hand");
});

it("a layer is seated by its feet; one that went meanwhile is not", async () => {
  const t = await tab();
  await jobOf(t);
  const seating = t.actions.seatLayer(layerOf(records(t), "l")!);
  await settle();
  await t.last("standsAt").answer(FEET);
  expect(await seating).toBe(seatsOf(records(t))[0].id);
  expect(seatsOf(records(t))[0]).toMatchObject({ own: FEET, on: "ground", heightBy: "guess" });
  t.open.undo();
  const again = t.actions.seatLayer(layerOf(records(t), "l")!);
  await settle();
  t.open.edit(removeLayer("l"), { stage: "compose", label: written("gone") });
  await t.last("standsAt").answer(FEET);
  expect(await again).toBeNull();
  expect(seatsOf(records(t))).toEqual([]);
});

it("shadows that contradict each other are kept, and told", async () => {
  const t = await tab();
  await jobOf(t);
  const [plate] = framesOf(records(t));
  const [x, y] = [plate.width / 2, plate.height * 0.8];
  t.actions.markShadows([
    { foot: [x, y], top: [x, y - 40], tip: [x + 60, y + 5] },
    { foot: [x + 50, y], top: [x + 50, y - 40], tip: [x - 30, y + 20] },
  ]);
  expect(plateOf(records(t))!.shadows).toHaveLength(2);
  expect(t.notices().join()).toMatch(/contradict each other/);
});

const NAMES = { shadow: "Shadow", contact: "Contact" };

/** A job whose layer is seated, under a sun. */
async function seatedJob(t: Tab) {
  await jobOf(t);
  const [plate] = framesOf(records(t));
  t.open.edit(addSeat("l", FEET, { x: plate.width / 2, y: 0.9 * plate.height }, "seat"), { stage: "compose", label: written("seated") });
  t.open.edit(tellPlate({ light: { azimuthDeg: 40, elevationDeg: 30 } }), { stage: "compose", label: written("lit") });
  return seatsOf(records(t))[0];
}

it("a shadow is laid in one step, kept out of the plate's own shade where there is some", async () => {
  const t = await tab();
  const seat = await seatedJob(t);
  const laying = t.actions.throwShadow(seat, null, NAMES);
  await settle();
  await t.last("litGround").answer({ fromEv: -3, softEv: 0.5 });
  await laying;
  expect(shadowOf(records(t), seat)!.mask.parts[1]).toMatchObject({ kind: "light", fromEv: -3 });
  expect(contactOf(records(t), seat)).toBeDefined();
  t.open.undo();
  expect([shadowOf(records(t), seat), contactOf(records(t), seat)]).toEqual([undefined, undefined]);
});

it("a shadow whose ground was looked at while the light, the plate or the thing changed is not laid", async () => {
  const t = await tab();
  const seat = await seatedJob(t);
  const changes = [
    tellPlate({ light: { azimuthDeg: -90, elevationDeg: 30 } }),
    setMerge(freshMerge("base", { baseId: framesOf(records(t))[1].id })),
    removeLayer("l"),
  ];
  for (const change of changes) {
    const laying = t.actions.throwShadow(seat, null, NAMES);
    await settle();
    t.open.edit(change, { stage: "compose", label: written("changed") });
    await t.last("litGround").answer(null);
    await laying;
    expect(shadowOf(records(t), seat)).toBeUndefined();
    t.open.undo();
  }
});

it("a surface is marked in one step; one that lies in the sky is refused in a sentence", async () => {
  const t = await tab();
  await seatedJob(t);
  const { width, height } = framesOf(records(t))[0];
  const at = (y: number): [number, number][] => [
    [0.2 * width, y * height],
    [0.7 * width, y * height],
  ];
  t.actions.markSurface("wall", at(0.8));
  expect(plateOf(records(t))!.surfaces).toMatchObject([{ is: "wall", heightM: 2 }]);
  t.actions.markSurface("wall", at(0.1));
  expect(plateOf(records(t))!.surfaces).toHaveLength(1);
  expect(t.notices().join()).toMatch(/cannot lie there/);
  t.open.undo();
  expect(plateOf(records(t))!.surfaces).toBeUndefined();
});

it("a reflection is laid where water was found, calm where its ripples do not show; not where the thing moved meanwhile, nor without water", async () => {
  const t = await tab();
  const seat = await seatedJob(t);
  const pond = { id: "pond", is: "water" as const, heightM: 0 };
  const { width, height } = framesOf(records(t))[0];
  const places: [number, number][] = [
    [0, 0.8 * height],
    [width, 0.8 * height],
    [width, height],
    [0, height],
  ];
  t.open.edit(tellPlate({ surfaces: [{ ...pond, places }] }), { stage: "compose", label: written("pond") });
  const seen = { surfaceId: "pond", sky: [0.5, 0.5, 0.6], slope: null };
  const dry = t.actions.throwReflection(seat, "Reflection");
  await settle();
  await t.last("waterUnder").answer(null);
  await dry;
  expect(t.notices().join()).toMatch(/in no water/);
  const late = t.actions.throwReflection(seat, "Reflection");
  await settle();
  t.open.edit(changeSeat("seat", { heightM: 2 }), { stage: "compose", label: written("taller") });
  await t.last("waterUnder").answer(seen);
  await late;
  expect(reflectionOf(records(t), seat)).toBeUndefined();
  const laying = t.actions.throwReflection(seat, "Reflection");
  await settle();
  await t.last("waterUnder").answer(seen);
  await laying;
  expect(reflectionOf(records(t), seat)!.content).toMatchObject({ surfaceId: "pond", sky: seen.sky });
  expect((reflectionOf(records(t), seat)!.content as { slope: number }).slope).toBeGreaterThan(0);
});

it("something round tells the light; an even one is told, and one of another plate is dropped", async () => {
  const t = await tab();
  await seatedJob(t);
  const mark = async () => {
    const marking = t.actions.markBall([100, 100], [140, 100]);
    await settle();
    return marking;
  };
  const even = mark();
  await settle();
  await t.last("ballLight").answer("even");
  await even;
  expect(t.notices().join()).toMatch(/lit evenly/);
  const late = mark();
  await settle();
  t.open.edit(tellPlate({ overcast: true, light: null }), { stage: "compose", label: written("overcast") });
  await t.last("ballLight").answer({ azimuthDeg: 20, elevationDeg: 50, sigmaDeg: 6 });
  await late;
  expect(plateOf(records(t))).toMatchObject({ overcast: true, light: null });
  const told = mark();
  await settle();
  await t.last("ballLight").answer({ azimuthDeg: 20, elevationDeg: 50, sigmaDeg: 6 });
  await told;
  expect(plateOf(records(t))).toMatchObject({ overcast: false, light: { azimuthDeg: 20, by: "ball", sigmaDeg: 6 } });
});

it("how a thing was taken is found in its own picture; where that does not tell it is said, and a seat that went gets none", async () => {
  const t = await tab();
  const seat = await seatedJob(t);
  const none = t.actions.findSource(seat);
  await settle();
  const content = layerOf(records(t), "l")!.content as ReturnType<typeof wholeFrame>;
  expect(t.last("findPlate").params.frame).toMatchObject({ id: content.frameId });
  await t.last("findPlate").answer(null);
  await none;
  expect(t.notices().join()).toMatch(/of its own picture do not tell/);
  // a merged frame has the plate's px, and no picture of its own that could be asked
  t.open.edit(setRegistration(unmovedRegistration(framesOf(records(t)), framesOf(records(t))[0], 1), {}), { stage: "register", label: written("both") });
  await t.actions.findSource(seat);
  expect(() => t.last("findPlate")).toThrow(/Nothing asks/);
  t.open.undo();
  const found = t.actions.findSource(seat);
  await settle();
  await t.last("findPlate").answer(FOUND);
  await found;
  expect(seatsOf(records(t))[0].seenFrom).toEqual(FOUND.stance);
  t.open.undo();
  const late = t.actions.findSource(seat);
  await settle();
  t.open.edit(removeLayer("l"), { stage: "compose", label: written("gone") });
  await t.last("findPlate").answer(FOUND);
  await late;
  expect(seatsOf(records(t))).toEqual([]);
});
