import { wholeFrame } from "../kinds/contents/frame/record";
import { written } from "../messages/message";
import { sentence } from "../messages/sentence";
import { newFrame } from "../../tests/support/records";
import {
  acceptDifference,
  addFrames,
  developAgain,
  developFrames,
  moveFrames,
  setKindOf,
  setRegistration,
  startJob,
  takeGroupings,
  unmovedRegistration,
  updateRecord,
  workOnSet,
  type Grouping,
} from "./edits";
import { addLayer } from "./layerEdits";
import type { Records, SetRecord } from "./records/types";
import { activeFramesOf, framesOf, framesOfSet, layerOf, layersOf, registrationOf, setsOf, workingSetIdOf } from "./selectors";
import { blockingAspects, secondsOf, summarizeSet } from "./sets";

const still = { score: 0.6, dx: 0, dy: 0 };
function gathered(count: number): { records: Records; ids: string[] } {
  const frames = Array.from({ length: count }, (_, i) => newFrame({ sourceId: String(i).repeat(64).slice(0, 64), meteredEv: 0 }));
  const records = addFrames(frames)(startJob("Test", "t", "set-1").records);
  return { records, ids: framesOf(records).map((f) => f.id) };
}
const grouping = (frameIds: string[], kind: Grouping["kind"] = "separate"): Grouping => ({
  kind,
  frameIds,
  reasons: [written("because")],
  confidence: 0.8,
  links: frameIds.slice(1).map(() => still),
});
const members = (r: Records) => setsOf(r).map((s) => framesOfSet(r, s.id).map((f) => framesOf(r).indexOf(f) + 1));

it("frames of a sequence stand in the order in which they were taken, those of other sets as they were gathered", () => {
  const { records, ids } = gathered(5);
  const [a, b, c, d, e] = ids;
  const order = [c, a, b, e, d];
  const taken = takeGroupings([grouping([a, b, c], "panorama"), grouping([d, e])], order)(records);
  expect(framesOf(taken).map((f) => f.id)).toEqual([c, a, b, d, e]);
  expect(framesOf(takeGroupings([grouping([c, b, a], "panorama")])(records)).map((f) => f.id)).toEqual(ids);
});

it("proposed sets take their frames over; the largest is worked on and no empty set stays", () => {
  const { records, ids } = gathered(5);
  const two = takeGroupings([grouping(ids.slice(0, 2)), grouping(ids.slice(2), "bracket")])(records);
  expect(members(two)).toEqual([
    [1, 2],
    [3, 4, 5],
  ]);
  expect(activeFramesOf(two)).toHaveLength(3);
  const one = takeGroupings([grouping(ids)])(two);
  expect(members(one)).toEqual([[1, 2, 3, 4, 5]]);
  expect(setsOf(one)).toHaveLength(1);
});

it("a frame moves into another set or one of its own; what was measured of both is gone, and a set left empty too", () => {
  const { records, ids } = gathered(3);
  const two = takeGroupings([grouping(ids.slice(0, 2)), grouping([ids[2]], "single")])(records);
  const [first, second] = setsOf(two);
  const frames = framesOfSet(two, first.id);
  const registered = setRegistration(unmovedRegistration(frames, frames[0], 1), {})(two);
  expect(registrationOf(registered, first.id)?.referenceId).toBe(ids[0]);
  const joined = moveFrames([ids[2]], first.id)(registered);
  expect(members(joined)).toEqual([[1, 2, 3]]);
  expect(registrationOf(joined, first.id)).toBeUndefined();
  expect(joined[second.id]).toBeUndefined();
  const alone = moveFrames([ids[0]], null)(joined);
  expect(members(alone)).toEqual([[2, 3], [1]]);
  expect(setsOf(alone).map((s) => s.by)).toEqual(["hand", "hand"]);
  // nothing moves into the set it is in
  expect(moveFrames([ids[1]], first.id)(joined)).toBe(joined);
});

it("registrations belong to their set and are there again when it is worked on", () => {
  const { records, ids } = gathered(4);
  const two = takeGroupings([grouping(ids.slice(0, 2)), grouping(ids.slice(2))])(records);
  const [first, second] = setsOf(two);
  const frames = framesOfSet(two, first.id);
  const registered = setRegistration(unmovedRegistration(frames, frames[0], 1), {})(workOnSet(first.id)(two));
  const other = workOnSet(second.id)(registered);
  expect([workingSetIdOf(other), registrationOf(other), layersOf(other)]).toEqual([second.id, undefined, []]);
  expect(registrationOf(workOnSet(first.id)(other))?.referenceId).toBe(ids[0]);
});

it("a lens takes the registration along, an exposure only the merge; a second development is a frame of its own", () => {
  const { records, ids } = gathered(2);
  const frames = framesOf(records);
  const registered = setRegistration(unmovedRegistration(frames, frames[0], 1), {})(records);
  const merged = { ...registered, "merge-set-1": { kind: "merge" } } as unknown as Records;
  const brighter = developFrames([ids[0]], { exposureEv: 1 })(merged);
  expect([brighter["merge-set-1"], registrationOf(brighter)?.setId]).toEqual([undefined, "set-1"]);
  expect(registrationOf(developFrames([ids[0]], { lens: { k1: 0.1, k2: 0 } })(merged))).toBeUndefined();
  const twice = developFrames([ids[0]], { exposureEv: 1 })(developAgain(ids[0])(records));
  expect(framesOf(twice).map((f) => [f.sourceId === frames[0].sourceId, f.development.exposureEv])).toEqual([
    [true, 1],
    [false, 0],
    [true, 0],
  ]);
  // neither the same frame twice nor a duplicate file, because it is developed otherwise
  expect(
    summarizeSet(twice)
      .oddities.map((o) => sentence(o.told))
      .join(),
  ).not.toMatch(/same file/);
});

describe("parity of a set", () => {
  const measured = (ids: string[], k1: number, extra: object = {}) =>
    ids.map((frameId, i) => ({
      frameId,
      comparable: true,
      rotationDeg: 0,
      scale: 1,
      k1: i === 1 ? k1 : 0,
      redEv: 0,
      blueEv: 0,
      tone: 1,
      alone: [],
      ...(i === 1 && extra),
    }));
  const withParity = (count: number, k1: number, extra?: object) => {
    const { records, ids } = gathered(count);
    return { ids, records: updateRecord<SetRecord>("set-1", { parity: measured(ids, k1, extra) })(setKindOf("set-1", "separate")(records)) };
  };

  it("a lens that differs holds up registering until it is made equal or kept on purpose", () => {
    const { records, ids } = withParity(3, -0.05);
    expect(blockingAspects(records)).toEqual(["lens"]);
    const [odd] = summarizeSet(records).differences[0].frames;
    expect(odd).toMatchObject({ frameId: ids[1], k1: -0.05 });
    expect(blockingAspects(developFrames([odd.frameId], { lens: { k1: odd.k1!, k2: 0 } })(records))).toEqual([]);
    const kept = acceptDifference("set-1", "lens", written("an old lens"))(records);
    expect([blockingAspects(kept), summarizeSet(kept).accepted[0].reason]).toEqual([[], written("an old lens")]);
  });

  it("of two frames either may be the one compared with, and making equal still makes equal", () => {
    const { records, ids } = gathered(2);
    for (const odd of [0, 1]) {
      const parity = ids.map((frameId, i) => ({ ...measured(ids, 0)[0], frameId, k1: i === odd ? 0.06 : 0 }));
      const set = updateRecord<SetRecord>("set-1", { parity })(records);
      const [difference] = summarizeSet(set).differences;
      const mended = difference.frames.reduce((r, f) => developFrames([f.frameId], { lens: { k1: f.k1!, k2: 0 } })(r), set);
      expect(summarizeSet(mended).differences).toEqual([]);
    }
  });

  it("white balance differs but does not hold up; a frame that could not be compared is named", () => {
    const { records } = withParity(3, 0, { redEv: 0.4, blueEv: -0.3 });
    const { differences } = summarizeSet(records);
    expect(differences.map((d) => d.aspect)).toEqual(["whiteBalance"]);
    expect(differences[0].frames[0]).toMatchObject({ number: 2, balance: { redEv: expect.closeTo(0.4, 9), blueEv: expect.closeTo(-0.3, 9) } });
    expect(blockingAspects(records)).toEqual([]);
    expect(summarizeSet(withParity(3, 0, { comparable: false }).records).incomparable).toEqual([2]);
  });
});

it("reads a camera's clock with its fraction", () => {
  expect(secondsOf("2026:09:18 19:02:12.25")! - secondsOf("2026:09:18 19:02:10")!).toBeCloseTo(2.25, 9);
  expect([secondsOf(null), secondsOf("yesterday")]).toEqual([null, null]);
});

it("a layer goes with its frame into another set", () => {
  const one = addFrames([newFrame({ fileName: "a.jpg" }), newFrame({ fileName: "b.jpg" })])(startJob("Test", "2026-01-01T00:00:00Z", "set-1").records);
  const [a, b] = framesOf(one);
  let r = addLayer({ id: "g", name: "G", content: { type: "group", through: false } })(one);
  for (const f of [a, b]) r = addLayer({ id: `on-${f.id}`, name: "L", parentId: "g", content: wholeFrame(f.id) })(r);
  const moved = moveFrames([b.id], null)(r);
  const [first, second] = [`on-${a.id}`, `on-${b.id}`].map((id) => layerOf(moved, id)!);
  expect([first.setId, first.parentId]).toEqual([a.setId, "g"]);
  expect([second.setId, second.parentId]).toEqual([framesOf(moved).find((f) => f.id === b.id)!.setId, null]);
});
