import { ADJUSTMENT_RECORDS, amountsOf, valuesOfKind, type Adjustment } from "../kinds/adjustments/records";
import { startJob } from "./edits";
import { addLayer } from "./layerEdits";
import { checkRecord } from "./parseDocument";
import { layerOf } from "./selectors";
import { hasVariants, VARIANTS, variantOf } from "./variants";

const start = startJob("Test", "2026-01-01T00:00:00Z", "set-1").records;
const laid = (adjustment: Adjustment, values: Record<string, number>) =>
  addLayer({ id: "a", name: "A", content: { type: "adjustment", adjustment, values } })(start);
const valuesIn = (records: typeof start) => {
  const { content } = layerOf(records, "a")!;
  return content.type === "adjustment" ? content.values : {};
};

it("a variant does more or less of what is done, where and how it is done", () => {
  const half = variantOf("a", 0.5)(laid("hueBand", { hueDeg: 120, widthDeg: 40, shiftDeg: -30, factor: 1.4 }));
  expect(valuesIn(half)).toMatchObject({ hueDeg: 120, widthDeg: 40, shiftDeg: -15, factor: 1.2 });
  expect(valuesIn(variantOf("a", 0)(laid("contrast", { factor: 1.3, pivot: 0.1 })))).toEqual({ factor: 1, pivot: 0.1 });
  const now = laid("exposure", { ev: 0.7 });
  expect(variantOf("a", 1)(now)).toBe(now);
});

it("no variant leaves the limits of a value, and each is a record that holds", () => {
  for (const adjustment of Object.keys(ADJUSTMENT_RECORDS) as Adjustment[]) {
    const most = Object.fromEntries(amountsOf(adjustment).map((name) => [name, valuesOfKind(adjustment)[name].max]));
    for (const times of VARIANTS) {
      const made = variantOf("a", times)(laid(adjustment, most));
      expect(checkRecord(layerOf(made, "a")!)).toBeUndefined();
      for (const [name, v] of Object.entries(valuesIn(made))) expect(v).toBeLessThanOrEqual(valuesOfKind(adjustment)[name].max);
    }
  }
});

it("what does nothing has none, nor what has no amount", () => {
  expect(hasVariants(layerOf(laid("exposure", { ev: 0 }), "a")!)).toBe(false);
  expect(hasVariants(layerOf(laid("exposure", { ev: -0.2 }), "a")!)).toBe(true);
  expect(hasVariants(layerOf(laid("contrast", { pivot: 0.3 }), "a")!)).toBe(false);
  expect(hasVariants(layerOf(laid("invert", {}), "a")!)).toBe(false);
});

it("every amount is a value that has something that does nothing between its limits", () => {
  for (const adjustment of Object.keys(ADJUSTMENT_RECORDS) as Adjustment[])
    for (const name of amountsOf(adjustment)) {
      const { neutral, min, max } = valuesOfKind(adjustment)[name];
      expect([adjustment, name, neutral >= min && neutral <= max && max > min]).toEqual([adjustment, name, true]);
    }
});
