/** The finish: a group of adjustments on top of all layers, of each set its own. */
import { ADJUSTMENT_WORDS } from "../kinds/adjustments/words";
import { startJob } from "./edits";
import { FINISH_NAMES, FINISH_STEPS, resetFinish, setFinish } from "./finishEdits";
import { layLook, stepsOfLayer } from "./looks";
import { addLayer, groupLayer, moveLayer, placeLayer, updateLayer } from "./layerEdits";
import type { MergeRecord } from "../kinds/merges/records";
import { freshMerge, setMerge } from "./mergeEdits";
import { MIGRATIONS } from "./migrations/migrations";
import type { Records } from "./records/types";
import { childrenOf, composedLayersOf, finishGroupOf, finishId, finishStepsOf, finishValues, isInFinish, layersOf, mergeOf } from "./selectors";

const { records: start } = startJob("Reeds", "2026-01-01T00:00:00Z", "s");
const steps = (r: Records) => childrenOf(r, finishId("s")).map(({ content }) => (content.type === "adjustment" ? content.adjustment : content.type));
const layer = (id: string) => addLayer({ id, name: id, content: { type: "merge" } });

it("steps lie in their order, whatever the order they are set in, and each once", () => {
  let r = start;
  for (const step of ["toneResponse", "exposure", "chroma", "localTone", "exposure", "contrast", "whiteBalance"] as const) r = setFinish(step, {})(r);
  expect(steps(r)).toEqual([...FINISH_STEPS]);
  expect(new Set(layersOf(r).map((l) => l.id)).size).toBe(layersOf(r).length);
});

it("values that were not given are neutral; a hidden step has none; a reset one is gone", () => {
  let r = setFinish("contrast", { factor: 1.2 })(start);
  r = setFinish("contrast", { pivot: 0.3 })(r);
  expect(finishValues(r, "contrast")).toEqual({ factor: 1.2, pivot: 0.3 });
  const hidden = updateLayer(childrenOf(r, finishId("s"))[0].id, { visible: false })(r);
  expect(finishValues(hidden, "contrast")).toEqual({ factor: 1, pivot: 0.18 });
  expect(steps(resetFinish("contrast")(r))).toEqual([]);
});

it("a merge that holds scene light has its tone response, which is reset to its own values and never taken away", () => {
  const merged = setMerge(freshMerge("radiance"))(start);
  expect(steps(merged)).toEqual(["toneResponse"]);
  expect(finishStepsOf(merged)).toEqual([]);
  const set = setFinish("toneResponse", { headroomEv: 2 })(merged);
  expect(finishStepsOf(set)).toHaveLength(1);
  expect(steps(resetFinish("toneResponse")(set))).toEqual(["toneResponse"]);
  expect(finishValues(resetFinish("toneResponse")(set), "toneResponse").headroomEv).toBe(4);
  expect(finishGroupOf(setMerge(freshMerge("fusion"))(start))).toBeUndefined();
});

it("the finish stays on top, however layers are moved", () => {
  let r = setFinish("exposure", { ev: 1 })(start);
  for (const id of ["a", "b"]) r = layer(id)(r);
  const top = (records: Records) => childrenOf(records, null).at(-1)!.id;
  const order = (records: Records) => childrenOf(records, null).map((l) => l.id);
  expect(order(r)).toEqual(["a", "b", finishId("s")]);
  expect(order(moveLayer("b", 1)(r))).toEqual(["a", "b", finishId("s")]);
  expect(order(moveLayer("a", 1)(r))).toEqual(["b", "a", finishId("s")]);
  expect(moveLayer(finishId("s"), -1)(r)).toBe(r);
  expect(top(placeLayer("a", finishId("s"), null)(r))).toBe(finishId("s"));
  expect(top(groupLayer("b", "G")(r))).toBe(finishId("s"));
  expect(composedLayersOf(r).map((l) => l.id)).toEqual(["a", "b"]);
  expect(layersOf(r).filter((l) => isInFinish(r, l))).toHaveLength(2);
});

it("what is measured is held to what a step may have", () => {
  const { mired, duv } = finishValues(setFinish("whiteBalance", { mired: -420, duv: 0.2 })(start), "whiteBalance");
  expect([mired, duv]).toEqual([-200, 0.05]);
});

it("a look of a finish is laid as layers, but its tone response stays the finish's", () => {
  const worn = setFinish("toneResponse", { headroomEv: 3 })(setFinish("contrast", { factor: 1.3 })(setMerge(freshMerge("radiance"))(start)));
  const look = { id: "k", name: "Evening", createdAt: "2026-01-01", steps: stepsOfLayer(worn, finishId("s")) };
  const other = layLook(look)(setMerge(freshMerge("radiance"))(start));
  expect(composedLayersOf(other).map(({ content }) => content)).toEqual([{ type: "adjustment", adjustment: "contrast", values: { factor: 1.3 } }]);
  expect([steps(other), finishValues(other, "toneResponse").headroomEv]).toEqual([["toneResponse"], 3]);
});

it("its layers begin with the names that adjustments have", () => {
  for (const step of FINISH_STEPS) expect(FINISH_NAMES[step]).toBe(ADJUSTMENT_WORDS[step].name);
});

describe("jobs of version 12", () => {
  const adjustment = (type: string, values: object, enabled = true) => ({ kind: "adjustment", id: `adjustment-${type}`, type, enabled, values });
  const merge = (setId: string, method: string) => ({ kind: "merge", id: `merge-${setId}`, setId, method });
  type Diff = { added?: object; updated?: object; removed?: object };
  const step = (id: string, parent: string | null, diff: Diff) => ({ id, parent, diff: { added: {}, updated: {}, removed: {}, ...diff } });
  const migrated = (...list: object[]) => {
    const json = MIGRATIONS[12]({ version: 12, history: { steps: list } }) as { version: number; history: { steps: { diff: Required<Diff> }[] } };
    return json.history.steps.map(({ diff }) => diff as unknown as Record<"added" | "updated" | "removed", Record<string, never>>);
  };
  const named = (r: object) => Object.fromEntries([r].map((x) => [(x as { id: string }).id, x]));

  it("what was set before a merge comes with it, and a set that is merged later has the same", () => {
    const [first, second, third] = migrated(
      step("1", null, { added: named(adjustment("exposure", { ev: 0.5 })) }),
      step("2", "1", { added: named(merge("a", "radiance")) }),
      step("3", "2", { added: named(merge("b", "fusion")) }),
    );
    expect(first.added).toEqual({});
    expect(Object.keys(second.added).sort()).toEqual(["finish-a", "finish-a-exposure", "finish-a-toneResponse", "merge-a"]);
    expect(Object.keys(third.added).sort()).toEqual(["finish-b", "finish-b-exposure", "merge-b"]);
    expect(second.added["finish-a-exposure"]).toMatchObject({ parentId: "finish-a", content: { adjustment: "exposure", values: { ev: 0.5 } } });
  });

  it("a finish stays when its merge goes, as where frames are registered anew, and with a set that was never merged", () => {
    const set = { kind: "set", id: "a" };
    const [first, , third] = migrated(
      step("1", null, { added: { ...named(set), ...named(adjustment("exposure", { ev: 0.5 })) } }),
      step("2", "1", { added: named(merge("a", "radiance")) }),
      step("3", "2", { removed: named(merge("a", "radiance")) }),
    );
    expect(Object.keys(first.added).sort()).toEqual(["a", "finish-a", "finish-a-exposure"]);
    expect(Object.keys(third.removed).sort()).toEqual(["finish-a-toneResponse", "merge-a"]);
  });

  it("a tone response that was off has its own values, for scene light was brought to a screen all the same", () => {
    const [{ added }] = migrated(step("1", null, { added: { ...named(merge("a", "radiance")), ...named(adjustment("tone", { headroomEv: 2 }, false)) } }));
    expect(added["finish-a-toneResponse"]).toMatchObject({ visible: true, content: { values: {} } });
  });

  it("a change is a change of the layer, from what it was; a branch goes on from its own step", () => {
    const begun = { ...named(merge("a", "fusion")), ...named(adjustment("chroma", { factor: 1.1 })) };
    const change = (from: number, to: number) => ({
      updated: { "adjustment-chroma": [adjustment("chroma", { factor: from }), adjustment("chroma", { factor: to })] },
    });
    const [, second, branch, gone] = migrated(
      step("1", null, { added: begun }),
      step("2", "1", change(1.1, 1.2)),
      step("3", "1", change(1.1, 0.9)),
      step("4", "2", { removed: named(adjustment("chroma", { factor: 1.2 })) }),
    );
    const factors = (diff: typeof second) =>
      (diff.updated["finish-a-chroma"] as unknown as { content: { values: { factor: number; space: number } } }[]).map((l) => l.content.values);
    // chroma was judged in linear light, and stays so
    expect(factors(second)).toEqual([1.1, 1.2].map((factor) => ({ factor, space: 1 })));
    expect(factors(branch)).toEqual([1.1, 0.9].map((factor) => ({ factor, space: 1 })));
    expect(Object.keys(gone.removed).sort()).toEqual(["finish-a", "finish-a-chroma"]);
  });

  it("a value beyond what a layer may have is held to it, one that is no number left out, and a step that was off is hidden", () => {
    const [{ added }] = migrated(
      step("1", null, {
        added: { ...named(merge("a", "fusion")), ...named(adjustment("whiteBalance", { mired: 900, duv: "pink", heat: 3 }, false)) },
      }),
    );
    expect(added["finish-a-whiteBalance"]).toMatchObject({ visible: false, content: { values: { mired: 200 } } });
    expect(Object.keys((added["finish-a-whiteBalance"] as unknown as { content: { values: object } }).content.values)).toEqual(["mired"]);
  });

  it("groups of before do not let through, what a mask began with is its base; what cannot be read is left as it is", () => {
    const group = { kind: "layer", id: "g", content: { type: "group" }, mask: { ground: 0, parts: [] } };
    const [{ added }] = migrated(step("1", null, { added: named(group) }));
    expect(added.g).toEqual({ ...group, content: { type: "group", through: false }, mask: { base: 0, parts: [] } });
    const odd = [null, 7, { id: "x", diff: null }, { id: "y", diff: { added: null, updated: { a: 1 } } }];
    expect(() => MIGRATIONS[12]({ history: { steps: odd.filter((s) => s !== null && s !== 7) } })).not.toThrow();
  });

  it("a merge holds what its method knows, lateral colour is of every merge, and a ground is a base", () => {
    const all = {
      operationVersion: 2,
      contrast: 1,
      saturation: 1,
      exposedness: 0.25,
      response: { choice: "auto", found: null },
      fringe: { removed: true, lateral: { red: 0.001, blue: 0 }, facts: null },
      ghostThreshold: 6,
      baseId: "f",
      shares: { f: 1 },
      noiseGain: null,
      seams: null,
    };
    const of = (method: string) => migrated(step("1", null, { added: named({ ...all, ...merge("a", method) }) }))[0].added["merge-a"] as unknown as object;
    const common = { ...merge("a", "base"), operationVersion: 2, ghostThreshold: 6, baseId: "f", shares: { f: 1 }, lateral: { red: 0.001, blue: 0 } };
    expect(of("ground")).toEqual(common);
    expect(of("focus")).toEqual({ ...common, method: "focus" });
    expect(of("median")).toEqual({ ...common, method: "median", noiseGain: null });
    expect(of("panorama")).toEqual({ ...common, method: "panorama", seams: null });
    const light = { response: all.response, fringe: { removed: true, facts: null } };
    expect(of("radiance")).toEqual({ ...common, method: "radiance", ...light });
    expect(of("fusion")).toEqual({ ...common, method: "fusion", ...light, contrast: 1, saturation: 1, exposedness: 0.25 });
  });
});

it("going to another method keeps what both know, and lets go what only one does", () => {
  const first = setMerge(freshMerge("fusion", { exposedness: 0.7, ghostThreshold: 9 }))(start);
  const second = freshMerge("radiance", {}, mergeOf(first));
  expect(second).toMatchObject({ method: "radiance", ghostThreshold: 9, response: { choice: "auto", found: null } });
  expect(second).not.toHaveProperty("exposedness");
  expect(freshMerge("fusion", {}, { ...mergeOf(first)!, ...second } as MergeRecord)).toMatchObject({ method: "fusion", exposedness: 0.7 });
});
