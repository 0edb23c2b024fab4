/** The engine's copy of a document follows the screen's whatever is done, and little is sent for it. */
import fc from "fast-check";
import { newStroke } from "../../tests/support/records";
import { DocumentReplica, DocumentSender } from "./replica";
import type { AnyRecord, Records } from "./records/types";

const told = (sender: DocumentSender, replica: DocumentReplica, records: Records): Records => {
  const { revision, change } = sender.name(records);
  // what crosses the border is a copy
  if (change) replica.apply(structuredClone(change));
  return replica.at(revision);
};

it("is the same after any edits, in any order of asking, also for states of before", () => {
  const id = fc.constantFrom("a", "b", "c", "d");
  const edit = fc.oneof(
    fc.record({ kind: fc.constant("put" as const), id, softness: fc.double({ min: 0, max: 1, noNaN: true }) }),
    fc.record({ kind: fc.constant("grow" as const), id, points: fc.array(fc.integer(), { minLength: 1, maxLength: 6 }) }),
    fc.record({ kind: fc.constant("shorten" as const), id }),
    fc.record({ kind: fc.constant("remove" as const), id }),
    fc.record({ kind: fc.constant("back" as const), steps: fc.nat(30) }),
  );
  fc.assert(
    fc.property(fc.array(edit, { maxLength: 60 }), (edits) => {
      const [sender, replica] = [new DocumentSender(), new DocumentReplica()];
      const states: Records[] = [{}];
      for (const e of edits) {
        const now: Record<string, AnyRecord> = { ...states[states.length - 1] };
        const stroke = "id" in e ? now[e.id] : undefined;
        if (e.kind === "put") now[e.id] = newStroke({ id: e.id, softness: e.softness });
        else if (e.kind === "grow" && stroke?.kind === "stroke") now[e.id] = { ...stroke, points: [...stroke.points, ...e.points] };
        else if (e.kind === "shorten" && stroke?.kind === "stroke") now[e.id] = { ...stroke, points: stroke.points.slice(0, -1) };
        else if (e.kind === "remove") delete now[e.id];
        const asked = e.kind === "back" ? states[Math.max(0, states.length - 1 - e.steps)] : now;
        expect(told(sender, replica, asked)).toEqual(asked);
        if (e.kind !== "back") states.push(now);
      }
    }),
    { numRuns: 300 },
  );
});

it("a growing stroke sends its new points and nothing else, however many strokes there are", () => {
  const sender = new DocumentSender();
  const many: Records = Object.fromEntries(
    Array.from({ length: 2000 }, (_, i) => [`s${i}`, newStroke({ id: `s${i}`, points: Array.from({ length: 600 }, (__, k) => k + i) })]),
  );
  const live = newStroke({ id: "live", points: [1, 2, 1] });
  expect(sender.name({ ...many, live }).change?.put).toHaveLength(2001);
  const { change } = sender.name({ ...many, live: { ...live, points: [...live.points, 3, 4, 1] } });
  expect(change).toMatchObject({ put: [], removed: [], grown: [{ id: "live", points: [3, 4, 1] }] });
  expect(JSON.stringify(change).length).toBeLessThan(200);
});

it("a state told before is only named, and one that was forgotten is told again", () => {
  const [sender, replica] = [new DocumentSender(), new DocumentReplica()];
  const first: Records = { a: newStroke({ id: "a" }) };
  expect(told(sender, replica, first)).toEqual(first);
  expect(sender.name(first).change).toBeNull();
  for (let i = 0; i < 40; i++) told(sender, replica, { b: newStroke({ id: "b", index: i }) });
  expect(sender.name(first).change).not.toBeNull();
  expect(() => replica.at(1)).toThrow(RangeError);
});
