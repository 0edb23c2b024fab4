/** Air that was measured in a plate: laid on what stands in it, taken from the plate, and told where it is missing. Light by Koschmieder's law (1924). */
import { engine, GREY, laidBoard, light, seatedBoard, W } from "../../tests/support/boardScene";
import type { NodeEngine } from "../cli/createNodeEngine";
import type { Air } from "../core/air/fitHaze";
import { clearingOf, clearPlate, hazeOn, layHaze, visibleM } from "../document/hazeEdits";
import { addLayer, updateLayer } from "../document/layerEdits";
import { checkRecord } from "../document/parseDocument";
import type { Records } from "../document/records/types";
import { seatFigures } from "../document/seatGeometry";
import { addSeat, changeSeat, tellPlate } from "../document/seatEdits";
import { childrenOf, layerOf, seatsOf } from "../document/selectors";

const AIR: Air = { color: [0.5, 0.4, 0.3], perM: [0.08, 0.1, 0.13] };
let node: NodeEngine;
let start: Records;
beforeAll(async () => {
  node = await engine();
  // a board as black as coal
  start = tellPlate({ air: AIR })(await seatedBoard(node, await laidBoard(node, (x) => (x % 20 < 10 ? 0.004 : 0.05))));
});

const distanceOf = (records: Records, id = "seat") =>
  seatFigures(
    records,
    seatsOf(records).find((s) => s.id === id)!,
  )!.distanceM!;
const kinds = (records: Records) =>
  node.ask("proof", { records }).then((all) => all.map(({ kind, values }) => ({ kind, values }) as { kind: string; values: Record<string, unknown> }));

it("a thing gets the haze of where it stands, on it alone, over all else that is clipped to it, and at full opacity", async () => {
  const graded = addLayer({ id: "grade", name: "Grade", clipped: true, content: { type: "adjustment", adjustment: "exposure", values: { ev: 0.5 } } })(start);
  const hazy = layHaze("l", AIR, "Haze")(graded);
  expect(childrenOf(hazy, null).map((l) => l.name)).toEqual(["Board", "Grade", "Haze"]);
  const laid = hazeOn(hazy, "l")!;
  expect(checkRecord(laid)).toBeUndefined();
  expect(laid).toMatchObject({ clipped: true, opacity: 1, content: { visibleM: Math.log(50) / 0.1, hides: [0.08 / 0.1, 1, 0.13 / 0.1] } });
  const [before, now] = [await light(node, graded), await light(node, hazy)];
  // on the board, beside it
  const [on, off] = [250 * W + 330, 350 * W + 60];
  expect(now[off]).toBe(before[off]);
  // along the ray a little more than along the ground
  const through = Math.exp(-AIR.perM[0] * distanceOf(hazy));
  expect(now[on]).toBeCloseTo(before[on] * through + AIR.color[0] * (1 - through), 1);
  expect(now[on]).toBeGreaterThan(before[on] * through + AIR.color[0] * (1 - through));
  expect(layHaze("l", AIR, "Again")(hazy)).toBe(hazy);
  expect(layHaze("nobody", AIR, "Haze")(hazy)).toBe(hazy);
  // as far again there is more of it
  const farther = changeSeat("seat", { foot: { x: 330, y: 240 } })(hazy);
  expect(distanceOf(farther)).toBeGreaterThan(1.3 * distanceOf(hazy));
  expect((await light(node, farther))[230 * W + 330]).toBeGreaterThan(now[on]);
});

it("proof tells black that no such air lets through, once, and falls silent where its haze lies on it", async () => {
  const told = await kinds(start);
  expect(told).toContainEqual({ kind: "hazeUnlike", values: { layer: "Board", ev: expect.any(Number), distanceM: expect.closeTo(distanceOf(start), 1) } });
  expect(told.filter((t) => t.kind === "endsUnlike" && t.values.end === "black")).toEqual([]);
  expect((await kinds(layHaze("l", AIR, "Haze")(start))).map(({ kind }) => kind)).not.toContain("hazeUnlike");
  expect((await kinds(tellPlate({ air: { ...AIR, perM: [1e-4, 1e-4, 1e-4] } })(start))).map(({ kind }) => kind)).not.toContain("hazeUnlike");
});

it("proof tells a nearer thing that is hazier than a farther one", async () => {
  const other = addLayer({ id: "m", name: "Far board", blendIn: "light", content: layerOf(start, "l")!.content })(start);
  const own = seatsOf(start)[0].own;
  const both = changeSeat("far", { heightM: 1, heightBy: "hand" })(addSeat("m", own, { x: 120, y: 240 }, "far")(other));
  expect((await kinds(both)).map(({ kind }) => kind)).not.toContain("hazeOrder");
  const turned = layHaze("l", AIR, "Haze")(both);
  expect(await kinds(turned)).toContainEqual({ kind: "hazeOrder", values: { nearer: "Board", farther: "Far board", ev: expect.any(Number) } });
  expect((await kinds(layHaze("m", AIR, "Haze of the far one")(turned))).map(({ kind }) => kind)).not.toContain("hazeOrder");
});

it("haze is taken from the plate under all that is laid on it, and changes nothing at nought", async () => {
  const cleared = clearPlate({ ...AIR, color: [0.6, 0.5, 0.4] }, "Cleared")(start);
  expect(childrenOf(cleared, null).map((l) => l.name)).toEqual(["Cleared", "Board"]);
  const layer = clearingOf(cleared)!;
  expect(checkRecord(layer)).toBeUndefined();
  const off = 350 * W + 60;
  const before = await light(node, start);
  expect(before[off]).toBeCloseTo(GREY, 2);
  expect((await light(node, cleared))[off]).toBeLessThan(before[off] - 0.02);
  const none = updateLayer(layer.id, { content: { type: "adjustment", adjustment: "clearing", values: { amount: 0 } } })(cleared);
  expect((await light(node, none))[off]).toBe(before[off]);
  expect(clearPlate(AIR, "Again")(cleared)).toBe(cleared);
});

it("one sees no farther than limits of the record say, and a plate that tells no haze says so", async () => {
  expect(visibleM({ color: [1, 1, 1], perM: [0, 1e-9, 0] })).toBe(50_000);
  expect(() => checkRecord({ ...start["plate-set-1"], air: { color: [1, 1], perM: [0, 0, 0] } } as never)).toThrow();
  // even grey, near and far
  expect(await node.ask("measureHaze", { records: start })).toBeNull();
});
