/** Layers that are dropped beside one another, on a group or into themselves. */
import { startJob } from "./edits";
import { addLayer, groupLayer, placeBeside } from "./layerEdits";
import { childrenOf, composedLayersOf } from "./selectors";
import type { Records } from "./records/types";

const { records: start } = startJob("Reeds", "2026-01-01T00:00:00Z", "s");
const r = ["a", "b", "c"].reduce((records, id) => addLayer({ id, name: id, content: { type: "merge" } })(records), start);
const order = (records: Records, parentId: string | null = null) => childrenOf(records, parentId).map((l) => l.id);

it.each([
  ["a", "c", "above", ["b", "c", "a"]],
  ["a", "c", "below", ["b", "a", "c"]],
  ["c", "a", "below", ["c", "a", "b"]],
  ["c", "a", "above", ["a", "c", "b"]],
  ["b", "c", "below", ["a", "b", "c"]],
  ["b", "a", "above", ["a", "b", "c"]],
] as const)("%s dropped at %s, %s it", (id, other, where, expected) => {
  expect(order(placeBeside(id, other, where)(r))).toEqual(expected);
});

it("into a group on top of what it holds, out of it again, and never into itself", () => {
  const grouped = groupLayer("b", "G")(r);
  const group = composedLayersOf(grouped).find((l) => l.content.type === "group")!.id;
  const into = placeBeside("a", group, "into")(grouped);
  expect([order(into), order(into, group)]).toEqual([
    [group, "c"],
    ["b", "a"],
  ]);
  const within = placeBeside("c", "b", "below")(into);
  expect([order(within), order(within, group)]).toEqual([[group], ["c", "b", "a"]]);
  expect(order(placeBeside("b", group, "below")(into))).toEqual(["b", group, "c"]);
  expect(placeBeside(group, "b", "above")(into)).toBe(into);
  expect(placeBeside(group, group, "into")(into)).toBe(into);
  expect(placeBeside("a", "gone", "above")(into)).toBe(into);
});
