import { addPart, addLayer, paintedMask, updateMask, updatePart } from "../document/layerEdits";
import { addRecord, startJob } from "../document/edits";
import type { Records } from "../document/records/types";
import { newStroke } from "../../tests/support/records";
import { whatItShows } from "./Silhouette";

const { records: start } = startJob("Reeds", "2026-01-01T00:00:00Z", "s");
const layer = (id: string) => addLayer({ id, name: id, content: { type: "merge" }, mask: paintedMask(0, `${id}-p`) });
const laid = layer("b")(layer("a")(start));
const same = (a: Records, b: Records, layerId: string, partId: string | null = null) => {
  const [p, q] = [whatItShows(a, layerId, partId), whatItShows(b, layerId, partId)];
  return p.length === q.length && p.every((v, i) => v === q[i]);
};
const stroke = (layerId: string) => addRecord(newStroke({ id: `on-${layerId}`, layerId, partId: `${layerId}-p`, points: [1, 2, 1] }));

it("what is done to another layer leaves a silhouette as it is; a stroke, the mask and the merge draw it anew", () => {
  expect(same(laid, stroke("b")(laid), "a")).toBe(true);
  expect(same(laid, stroke("a")(laid), "a")).toBe(false);
  expect(same(laid, updateMask("a", { featherPx: 3 })(laid), "a")).toBe(false);
  const merged = { ...laid, "merge-s": { kind: "merge", id: "merge-s", setId: "s" } } as unknown as Records;
  expect(same(laid, merged, "a")).toBe(false);
});

it("one that follows another layer is drawn anew with that", () => {
  const linked = addPart("a", { kind: "link", layerId: "b" }).edit(laid);
  expect(same(linked, stroke("b")(linked), "a")).toBe(false);
});

it("that of a part depends on this part alone", () => {
  const { edit, partId } = addPart("a", { kind: "ellipse", cx: 5, cy: 5, rx: 2, ry: 2, angleDeg: 0 });
  const two = edit(laid);
  expect(same(two, stroke("a")(two), "a", partId)).toBe(true);
  expect(same(two, updatePart("a", partId, { featherPx: 4 })(two), "a", partId)).toBe(false);
  expect(same(two, updatePart("a", partId, { featherPx: 4 })(two), "a", "a-p")).toBe(true);
});
