/** A thing matched with the plate around it, as an engine shows both, and what is laid of it. */
import { engine, GREY, laidBoard, light, seatedBoard, W } from "../../tests/support/boardScene";
import type { NodeEngine } from "../cli/createNodeEngine";
import { fitTransfer } from "../core/match/fitTransfer";
import { adjustmentsOf } from "../core/match/proposal";
import { valuesOfKind } from "../kinds/adjustments/records";
import { addLamp, freshLamp, layLampLight } from "../document/lampEdits";
import { addLayer, placeBeside, updateLayer } from "../document/layerEdits";
import { noiseBeside } from "../core/match/grainStep";
import { correctionsOf, layMatch, takeOver } from "../document/matchEdits";
import { checkRecord } from "../document/parseDocument";
import type { Records } from "../document/records/types";
import { changeSeat } from "../document/seatEdits";
import { freshMask } from "../document/records/layerTypes";
import { freshMerge, setMerge } from "../document/mergeEdits";
import { frameOfOutput } from "./operations/match/matchFrames";
import { childrenOf, documentSize, framesOf, layerOf, layersOf, plateOf } from "../document/selectors";

let node: NodeEngine;
let start: Records;
beforeAll(async () => {
  node = await engine();
  // from dark to bright, around another middle than the plate's
  start = await seatedBoard(node, await laidBoard(node, (x) => 0.5 + (0.4 * (x - 240)) / 120));
});

const compared = (records: Records, strength = 1) => node.ask("matchThing", { records, seatId: "seat", strength });

it("both sides are measured as they are shown: the thing inside its outline, the plate around it", async () => {
  const told = (await compared(start))!;
  expect(told.plate.mono.middle).toBeCloseTo(Math.log2(GREY), 1);
  expect(told.own.mono.middle).toBeCloseTo(Math.log2(0.7), 1);
  expect(told.own.mono.white).toBeGreaterThan(told.own.mono.black + 0.5);
});

it("a step is laid on the thing alone, over all else that is clipped to it, and leaves less", async () => {
  const lamp = { ...freshLamp(plateOf(start)!, documentSize(start)!, "lamp", 100, 200, null, true), id: "lamp", ev: -4 };
  const lit = layLampLight("lamp", "l", "Light")(addLamp(lamp)(start));
  const told = (await compared(lit))!;
  expect(told.steps[0].step).toBe("tone");
  const matched = layMatch("l", told.steps[0], "Match")(lit);
  const added = layersOf(matched).find((l) => l.name === "Match")!;
  expect(checkRecord(added)).toBeUndefined();
  expect(added.clipped).toBe(true);
  expect(childrenOf(matched, null).map((l) => l.name)).toEqual(["Board", "Light", "Match"]);
  const after = (await compared(matched))!;
  expect(Math.abs(after.own.mono.middle - after.plate.mono.middle)).toBeLessThan(0.5 * Math.abs(told.own.mono.middle - told.plate.mono.middle));
  // what lies beside it stays
  const [before, now] = [await light(node, lit), await light(node, matched)];
  expect(now[350 * W + 100]).toBe(before[350 * W + 100]);
  expect(now[250 * W + 330]).toBeLessThan(before[250 * W + 330]);
});

it("a quiet thing on a grained plate gets its plate's grain, and nothing where both are as quiet", async () => {
  const values = { dark: 5, middle: 5, light: 5, sizePx: 0.6 };
  const plain = (await compared(start))!;
  expect(plain.steps.some(({ step }) => step === "grain")).toBe(false);
  const below = addLayer({ id: "film", name: "Film", content: { type: "adjustment", adjustment: "grain", values } })(start);
  const grained = placeBeside("film", "l", "below")(below);
  const told = (await compared(grained))!;
  const step = told.steps.find((s) => s.step === "grain")!;
  expect(step.before).toBeGreaterThan(3);
  const after = (await compared(layMatch("l", step, "Grain")(grained)))!;
  const beside = noiseBeside(after.noise.own, after.noise.plate)!;
  expect(Math.abs(beside.own / beside.other - 1)).toBeLessThan(0.1);
  expect(after.noise.own.grainPx! / after.noise.plate.grainPx!).toBeCloseTo(1, 0);
});

it("proof tells black, white, cast and noise of what was not matched, and falls silent where it was", async () => {
  const kinds = async (records: Records) => (await node.ask("proof", { records })).map(({ kind, values }) => ({ kind, values }));
  const values = { dark: 5, middle: 5, light: 5, sizePx: 0.6 };
  const film = addLayer({ id: "film", name: "Film", content: { type: "adjustment", adjustment: "grain", values } });
  const warm = addLayer({
    id: "warm",
    name: "Warm",
    clipped: true,
    content: { type: "adjustment", adjustment: "whiteBalance", values: { mired: 22, duv: 0 } },
  });
  const dark = addLayer({ id: "dark", name: "Dark", clipped: true, content: { type: "adjustment", adjustment: "exposure", values: { ev: -3 } } });
  const apart = warm(placeBeside("film", "l", "below")(film(start)));
  const told = await kinds(apart);
  // half a stop over the plate's 0.3 at its middle, and up to 0.9
  expect(told).toContainEqual({ kind: "endsUnlike", values: { layer: "Board", end: "white", ev: expect.closeTo(Math.log2(0.85 / GREY), 0) } });
  expect(await kinds(dark(start))).toContainEqual({
    kind: "endsUnlike",
    values: { layer: "Board", end: "black", ev: expect.closeTo(3 - Math.log2(0.5 / GREY), 0) },
  });
  expect(told).toContainEqual({ kind: "castUnlike", values: { layer: "Board", deltaE: expect.any(Number), towards: "yellow" } });
  expect(told).toContainEqual({ kind: "noiseUnlike", values: expect.objectContaining({ layer: "Board", how: "quieter" }) });
  let matched = apart;
  for (const step of (await compared(apart))!.steps) matched = layMatch("l", step, step.step)(matched);
  const left = (await kinds(matched)).map(({ kind }) => kind);
  for (const kind of ["endsUnlike", "castUnlike", "noiseUnlike"]) expect(left).not.toContain(kind);
});

it("corrections of one thing are taken over to another in their order, those that a mask keeps to a place are not", () => {
  const other = addLayer({ id: "m", name: "Other", content: layerOf(start, "l")!.content })(start);
  const exposure = (ev: number) => ({ adjustment: "exposure" as const, values: { ev } });
  const own = layMatch("m", exposure(2), "Own of Other")(other);
  const first = layMatch("l", exposure(-1), "First of Board", { opacity: 0.5 })(own);
  const second = layMatch("l", { adjustment: "chroma", values: { factor: 0.8 } }, "Second of Board")(first);
  const masked = addLayer({ id: "part", name: "Part", clipped: true, mask: freshMask(0), content: { type: "adjustment", ...exposure(1) } })(second);
  const laid = placeBeside("part", "l", "above")(masked);
  expect(correctionsOf(laid, "l").map((l) => l.name)).toEqual(["First of Board", "Second of Board"]);
  const taken = takeOver("l", "m")(laid);
  for (const record of Object.values(taken)) expect(checkRecord(record)).toBeUndefined();
  const on = correctionsOf(taken, "m");
  expect(on.map((l) => [l.name, l.opacity])).toEqual([
    ["Own of Other", 1],
    ["First of Other", 0.5],
    ["Second of Other", 1],
  ]);
  expect(on[1].content).toEqual({ type: "adjustment", ...exposure(-1) });
  // what they were taken from stays as it was, and itself gets nothing
  expect(correctionsOf(taken, "l").map((l) => l.content)).toEqual(correctionsOf(laid, "l").map((l) => l.content));
  expect(takeOver("l", "l")(laid)).toBe(laid);
});

it("places are looked for from the frame whose px the picture has; a panorama has those of none", () => {
  expect(frameOfOutput(start)).toBe(framesOf(start)[0]);
  expect(frameOfOutput(setMerge(freshMerge("panorama"))(start))).toBeNull();
});

it("what a match of a very dark picture proposes lies within the limits of its adjustments", () => {
  const light = (times: number) => Float32Array.from({ length: 3000 }, (_, i) => times * (0.02 + ((i * 37) % 101) / 110));
  const made = adjustmentsOf(fitTransfer({ count: 1000, light: light(2 ** -8) }, { count: 1000, light: light(0.9) }));
  for (const { adjustment, values } of made) {
    const kind = valuesOfKind(adjustment);
    for (const [name, value] of Object.entries(values)) {
      expect(value).toBeGreaterThanOrEqual(kind[name].min);
      expect(value).toBeLessThanOrEqual(kind[name].max);
    }
  }
});

it("half the way is half the way, and what is hidden or in the sky is told as such", async () => {
  const [half, whole] = [(await compared(start, 0.5))!, (await compared(start, 1))!];
  expect(half.steps[0].after).toBeGreaterThan(whole.steps[0].after + 0.15 * whole.steps[0].before);
  expect(await compared(updateLayer("l", { visible: false })(start))).toBeNull();
  expect(await compared(changeSeat("seat", { on: "sky" })(start))).not.toEqual(whole);
});
