import { addLayer } from "./layerEdits";
import { startJob } from "./edits";
import { compareLooks } from "../words/compareLooks";
import { layLook, stepsOfLayer, type Look } from "./looks";
import { layersOf } from "./selectors";

const records = startJob("Test", "2026-01-01T00:00:00Z").records;
const hue = (hueDeg: number) => ({ type: "adjustment" as const, adjustment: "hueBand" as const, values: { hueDeg } });
const look = (name: string, steps: Look["steps"]): Look => ({ id: name, name, createdAt: "2026-01-01T00:00:00Z", steps });

it("a group's adjustments are a look, which is laid over another job as layers with the same values", () => {
  let r = addLayer({ id: "g", name: "Evening", content: { type: "group", through: false } })(records);
  r = addLayer({ id: "a", name: "Reeds", parentId: "g", content: hue(54), opacity: 0.8 })(r);
  r = addLayer({ id: "b", name: "Colour", parentId: "g", content: { type: "fill", red: 1, green: 0, blue: 0, grain: 0, grainPx: 2, ramp: null } })(r);
  r = addLayer({ id: "c", name: "Edge", parentId: "g", content: { type: "adjustment", adjustment: "falloff", values: { ev: -1 } }, mode: "luminosity" })(r);
  const steps = stepsOfLayer(r, "g");
  expect(steps.map((s) => [s.name, s.adjustment, s.opacity, s.mode])).toEqual([
    ["Reeds", "hueBand", 0.8, "normal"],
    ["Edge", "falloff", 1, "luminosity"],
  ]);
  const laid = layLook(look("Evening", steps))(records);
  expect(layersOf(laid).map((l) => [l.name, l.content, l.opacity, l.mask.base])).toEqual([
    ["Reeds", hue(54), 0.8, 1],
    ["Edge", { type: "adjustment", adjustment: "falloff", values: { ev: -1 } }, 1, 1],
  ]);
});

it("two looks are compared value by value", () => {
  const step = (values: Record<string, number>, opacity = 1) => ({ name: "x", adjustment: "hueBand" as const, values, opacity, mode: "normal" as const });
  const falloff = { name: "y", adjustment: "falloff" as const, values: {}, opacity: 1, mode: "normal" as const };
  expect(compareLooks(look("a", [step({ hueDeg: 54, factor: 1.2 })]), look("b", [step({ hueDeg: 50, factor: 1.2 }, 0.5), falloff]))).toEqual([
    { step: "Hue band", value: "Centre", a: "54 °", b: "50 °" },
    { step: "Hue band", value: "Opacity", a: "100 %", b: "50 %" },
    { step: "Light falloff", value: "", a: "none", b: "there" },
  ]);
  expect(compareLooks(look("a", [falloff]), look("a", [{ ...falloff, values: { ev: 0 } }]))).toEqual([]);
});
