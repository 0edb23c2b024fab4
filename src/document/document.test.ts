import { wholeFrame } from "../kinds/contents/frame/record";
import { refusal } from "../../tests/support/refusal";
import { written } from "../messages/message";
import fc from "fast-check";
import { type Edit, addFrames, createJob, setGeometry, setRegistration, startJob, takeStep, unmovedRegistration } from "./edits";
import { removeFrame, removeLayer } from "./removal";
import { setFinish } from "./finishEdits";
import { addLayer, paintedMask } from "./layerEdits";
import { freshMerge, type FoundGhost, chooseDonor, paintDonor, setGhosts, setMerge } from "./mergeEdits";
import { append, EMPTY_HISTORY, moveHead, pathTo, recordsAt, redoTarget } from "./history";
import { DOCUMENT_VERSION, MIGRATIONS } from "./migrations/migrations";
import { DocumentError, parseDocument } from "./parseDocument";
import type { Records } from "./records/types";
import { VALIDATORS } from "./records/validators";
import { activeFramesOf, finishValues, framesOf, geometryOf, ghostsOf, layersOf, registrationOf } from "./selectors";
import { outputGeometry, outputToReference } from "./outputGeometry";
import { newFrame, newStroke } from "../../tests/support/records";
import { IDENTITY, invert, project } from "../core/geometry/matrix3";

const frame = newFrame();
const text = { stage: "finish", label: written("step") };
const at = "2026-01-01T00:00:00.000Z";

const someEdit = fc.oneof(
  fc.double({ min: -4, max: 4, noNaN: true }).map((ev): Edit => setFinish("exposure", { ev })),
  fc.double({ min: 0, max: 2, noNaN: true }).map((factor): Edit => setFinish("chroma", { factor })),
  fc.constant<Edit>(addFrames([frame])),
  fc.constant<Edit>((r) =>
    framesOf(r)[0]
      ? addLayer({
          name: "L",
          content: wholeFrame(framesOf(r)[0].id),
          mask: paintedMask(0, "p"),
        })(r)
      : r,
  ),
  fc.constant<Edit>((r) => (layersOf(r)[0] ? removeLayer(layersOf(r)[0].id)(r) : r)),
);

it("any walk of edits, undo, redo and jumps leads to the records its path says", () => {
  fc.assert(
    fc.property(fc.array(fc.oneof(someEdit, fc.constantFrom("undo", "redo"), fc.nat(30)), { maxLength: 25 }), (acts) => {
      let { history, records } = startJob("Test", at, "set-1");
      const seen = new Map<string, Records>([[history.head!, records]]);
      for (const act of acts) {
        if (typeof act === "function") {
          const taken = takeStep(history, records, act, text, at);
          ({ history, records } = taken);
          if (taken.step) seen.set(taken.step.id, records);
        } else {
          const target =
            act === "undo" ? pathTo(history, history.head).at(-2)?.id : act === "redo" ? redoTarget(history)?.id : history.steps[act % history.steps.length].id;
          if (target) ({ history, records } = moveHead(history, records, target));
        }
        expect(records).toEqual(seen.get(history.head!));
        expect(recordsAt(history, history.head)).toEqual(records);
      }
      expect(parseDocument(JSON.parse(JSON.stringify({ version: DOCUMENT_VERSION, id: "x", history }))).records).toEqual(JSON.parse(JSON.stringify(records)));
    }),
    { numRuns: 60 },
  );
});

it("an abandoned branch stays reachable", () => {
  let state = startJob("Test", at, "set-1");
  const first = state.history.head;
  state = takeStep(state.history, state.records, setFinish("exposure", { ev: 1 }), text, at);
  const abandoned = state.history.head;
  state = moveHead(state.history, state.records, first);
  state = takeStep(state.history, state.records, setFinish("exposure", { ev: 2 }), text, at);
  expect(finishValues(moveHead(state.history, state.records, abandoned).records, "exposure").ev).toBe(1);
});

it("a frame goes with its layers and their strokes", () => {
  const withFrame = addFrames([frame])(startJob("Test", at, "set-1").records);
  const { id } = framesOf(withFrame)[0];
  const layered = addLayer({
    id: "l",
    name: "L",
    content: wholeFrame(id),
    mask: paintedMask(0, "p"),
  })(withFrame);
  const stroke = newStroke({ points: [1, 1, 1] });
  expect(Object.keys(removeFrame(id)({ ...layered, s: stroke }))).toEqual(["job", "set-1"]);
});

it("an edit that changes nothing is no step", () => {
  const { history, records } = startJob("Test", at, "set-1");
  const once = takeStep(history, records, setFinish("exposure", { ev: 1 }), text, at);
  expect(takeStep(once.history, once.records, setFinish("exposure", { ev: 1 }), text, at).step).toBeNull();
});

it("new frames take registration and merge away, because they no longer hold", () => {
  const { history, records } = startJob("Test", at, "set-1");
  const merged = { ...records, "merge-set-1": { kind: "merge", id: "merge-set-1", setId: "set-1" } } as unknown as Records;
  expect(takeStep(history, merged, addFrames([frame]), text, at).records["merge-set-1"]).toBeUndefined();
});

it("every kind of record has a validator, and every version a migration", () => {
  expect(Object.keys(VALIDATORS).sort()).toEqual([
    "acceptance",
    "exposures",
    "frame",
    "geometry",
    "ghost",
    "job",
    "layer",
    "merge",
    "panorama",
    "parity",
    "pin",
    "plate",
    "region",
    "registration",
    "seat",
    "set",
    "stroke",
    "swap",
    "target",
    "weave",
  ]);
  expect(Object.keys(MIGRATIONS).map(Number)).toEqual(Array.from({ length: DOCUMENT_VERSION - 1 }, (_, i) => i + 1));
});

describe("damaged documents get one sentence", () => {
  const good = () => JSON.parse(JSON.stringify({ version: DOCUMENT_VERSION, id: "job-1", history: startJob("Test", at, "set-1").history }));
  const cases: [string, (d: ReturnType<typeof good>) => unknown, RegExp][] = [
    ["nothing", () => null, /holds no job/],
    ["no version", (d) => ({ ...d, version: undefined }), /no version/],
    ["a newer version", (d) => ({ ...d, version: 99 }), /newer Marsh.*Nothing was changed/],
    ["no history", (d) => ({ ...d, history: null }), /history is missing/],
    ["a head that is missing", (d) => ({ ...d, history: { ...d.history, head: "nowhere" } }), /step that is missing/],
    ["a step twice", (d) => ({ ...d, history: { ...d.history, steps: [...d.history.steps, ...d.history.steps] } }), /cannot be read/],
    ["an unknown record", (d) => ((d.history.steps[0].diff.added.x = { kind: "virus", id: "x" }), d), /unknown kind/],
    ["a record whose kind cannot be said", (d) => ((d.history.steps[0].diff.added.x = { kind: { toString: 5 }, id: "x" }), d), /unknown kind/],
    ["a step whose stage is no word", (d) => ((d.history.steps[0].stage = {}), d), /cannot be read/],
    ["a record under another's name", (d) => ((d.history.steps[0].diff.added.other = d.history.steps[0].diff.added.job), d), /own name/],
    [
      "an unsound record on a branch that was left",
      (d) => {
        const [first] = d.history.steps;
        d.history.steps.push({
          ...first,
          id: "left",
          parent: first.id,
          diff: { added: { "pin-left": { kind: "pin", id: "pin-left" } }, updated: {}, removed: {} },
        });
        return d;
      },
      /damaged: pin/,
    ],
    [
      "a stroke that leads out of the world",
      (d) => {
        d.history.steps[0].diff.added.s = newStroke({ id: "s", layerId: "l", partId: "p", points: [0, 0, 1, 1e8, 0, 1] });
        return d;
      },
      /points must be at most/,
    ],
    ...["constructor", "__proto__", "toString", "hasOwnProperty"].map((kind): (typeof cases)[number] => [
      `a record of kind ${kind}`,
      (d) => ((d.history.steps[0].diff.added.x = { kind, id: "x" }), d),
      /unknown kind/,
    ]),
    [
      "a value out of bounds",
      (d) => (
        (d.history.steps[0].diff.added.geometry = {
          kind: "geometry",
          id: "geometry",
          setId: "set-1",
          angleDeg: 400,
          ratio: null,
          crop: { x: 0, y: 0, width: 1, height: 1 },
        }),
        d
      ),
      /angleDeg/,
    ],
    ["a climbing id", (d) => ({ ...d, id: "../../x" }), /damaged/],
  ];
  it.each(cases)("%s", (_, damage, sentence) => {
    expect(() => parseDocument(damage(good()))).toThrow(DocumentError);
    expect(refusal(() => parseDocument(damage(good())))).toMatch(sentence);
  });
});

it("a job of version 1 becomes a job of one set, at every step of its history", () => {
  const old = { ...frame, kind: "frame", id: "f", index: 0, excluded: false };
  const crop = { x: 0, y: 0, width: 10, height: 10 };
  const registration = {
    kind: "registration",
    id: "registration",
    operationVersion: 1,
    model: "homography",
    referenceId: "f",
    referenceReason: "",
    placements: [
      {
        frameId: "f",
        registered: true,
        matrix: IDENTITY,
        residualPx: 0,
        residualBeforePx: 0,
        agreeing: 1,
        confidence: 1,
        otherPx: [],
        reason: null,
        shifts: [],
      },
    ],
    proposedCrop: crop,
  };
  const step = (id: string, parent: string | null, diff: object) => ({
    ...{ id, parent, at, stage: "gather", label: id, effect: null, note: "" },
    diff: { added: {}, updated: {}, removed: {}, ...diff },
  });
  const job = {
    version: 1,
    id: "old",
    history: {
      head: "c",
      steps: [
        step("a", null, { added: { job: { kind: "job", id: "job", name: "Old", createdAt: at }, f: old } }),
        step("b", "a", { added: { registration, geometry: { kind: "geometry", id: "geometry", angleDeg: 1, crop, ratio: null } } }),
        step("c", "b", { updated: { registration: [registration, { ...registration, referenceReason: "again" }] } }),
      ],
    },
  };
  const untouched = JSON.stringify(job);
  const { records, job: stored } = parseDocument(job);
  expect(registrationOf(records)).toMatchObject({ setId: "set-old", referenceReason: written("again"), placements: [{ lens: null, by: "measured" }] });
  expect(geometryOf(records)?.angleDeg).toBe(1);
  expect(activeFramesOf(records)).toMatchObject([{ id: "f", setId: "set-old", development: { exposureEv: 0 } }]);
  expect(registrationOf(recordsAt(stored.history, "b"))?.referenceReason).toEqual(written(""));
  expect(JSON.stringify(job)).toBe(untouched);
});

it("version 3 gives developments a tone, merges a noise gain and compared frames their lonely cells, at every step", () => {
  const frame3 = { kind: "frame", id: "f", development: { exposureEv: 1, mired: 0, duv: 0, lens: null } };
  const set = { kind: "set", id: "s", parity: [{ frameId: "f", tone: 1 }] };
  const diff = {
    added: { f: frame3, s: set },
    updated: {
      m: [
        { kind: "merge", id: "m" },
        { kind: "merge", id: "m", method: "fusion" },
      ],
    },
    removed: { s: { ...set, parity: null } },
  };
  const migrated = MIGRATIONS[2]({ version: 2, history: { steps: [{ id: "a", diff }] } }) as { version: number; history: { steps: { diff: unknown }[] } };
  expect(migrated.version).toBe(3);
  expect(migrated.history.steps[0].diff).toEqual({
    added: { f: { ...frame3, development: { ...frame3.development, tone: 1 } }, s: { ...set, parity: [{ frameId: "f", tone: 1, alone: [] }] } },
    updated: {
      m: [
        { kind: "merge", id: "m", noiseGain: null },
        { kind: "merge", id: "m", method: "fusion", noiseGain: null },
      ],
    },
    removed: { s: { ...set, parity: null } },
  });
});

it("version 4 gives merges a response and a threshold and lets what moved be found anew, at every step", () => {
  const merge = { kind: "merge", id: "m", method: "radiance", noiseGain: null };
  const diff = {
    added: {},
    updated: {
      m: [
        { ...merge, motion: [{ areaPx: 9 }] },
        { ...merge, motion: [] },
      ],
    },
    removed: {},
  };
  const migrated = MIGRATIONS[3]({ version: 3, history: { steps: [{ id: "a", diff }] } }) as { version: number; history: { steps: { diff: unknown }[] } };
  expect(migrated.version).toBe(4);
  const now = { ...merge, response: { choice: "assumed", found: null }, fringe: { removed: false, facts: null }, ghostThreshold: 6, baseId: null };
  expect(migrated.history.steps[0].diff).toEqual({ added: {}, updated: { m: [now, now] }, removed: {} });
});

describe("places that moved", () => {
  const found = (runs: number[], proposedId: string | null): FoundGhost => ({ cellPx: 4, runs, strength: 9, proposedId, reason: written("Because.") });
  const start = () => setMerge(freshMerge("radiance"))(createJob("Test", at)({}));
  const told = (r: Records) => ghostsOf(r).map((g) => [g.number, g.donorId, g.by]);

  it("found again they keep their number and what the person chose; others come and go", () => {
    let r = setGhosts([found([0, 0, 10], "a"), found([9, 0, 10], "a")], true)(start());
    expect(told(r)).toEqual([
      [1, "a", "found"],
      [2, "a", "found"],
    ]);
    r = chooseDonor(ghostsOf(r)[1].id, "b")(r);
    r = setGhosts([found([20, 0, 10], "c"), found([9, 1, 11], "c")], false)(r);
    expect(told(r)).toEqual([
      [1, null, "found"],
      [2, "b", "found"],
    ]);
    expect(VALIDATORS.ghost.isValidSync(ghostsOf(r)[0], { strict: true })).toBe(true);
  });

  it("painted they grow while strokes touch, are given back in part, and outlast a new search", () => {
    let r = paintDonor([5, 0, 10], 4, "a")(start());
    r = paintDonor([5, 8, 14], 4, "a")(r);
    expect(ghostsOf(r).map((g) => g.runs)).toEqual([[5, 0, 14]]);
    r = paintDonor([5, 30, 34], 4, "a")(r);
    expect(told(r)).toEqual([
      [1, "a", "hand"],
      [2, "a", "hand"],
    ]);
    r = paintDonor([5, 4, 40], 4, null)(r);
    expect(ghostsOf(r).map((g) => g.runs)).toEqual([[5, 0, 4]]);
    r = setGhosts([found([0, 0, 10], "b")], true)(r);
    expect(told(r)).toEqual([
      [1, "a", "hand"],
      [2, "b", "found"],
    ]);
  });
});

it("a crop reaches no farther than the picture does, however it is turned: a file cannot ask for the moon", () => {
  const records = (crop: { x: number; y: number; width: number; height: number }): Records => {
    let state = startJob("Test", at, "set-1");
    state = takeStep(state.history, state.records, addFrames([newFrame({ width: 300, height: 400 })]), text, at);
    const [first] = framesOf(state.records);
    const registration = { ...unmovedRegistration([first], first, 1), id: "registration-set-1", setId: "set-1" };
    return setGeometry({ angleDeg: 30, ratio: null, crop })(setRegistration(registration, {})(state.records));
  };
  const cropOf = (crop: Parameters<typeof records>[0]) => outputGeometry(records(crop)).crop;
  expect(cropOf({ x: -40, y: 10, width: 350, height: 380 })).toEqual({ x: -40, y: 10, width: 350, height: 380 });
  // the picture's half diagonal is 250 px
  expect(cropOf({ x: -30_000, y: -30_000, width: 90_000, height: 90_000 })).toEqual({ x: -100, y: -50, width: 500, height: 500 });
  expect(cropOf({ x: 5000, y: 0, width: 90, height: 90 })).toEqual({ x: 0, y: 0, width: 300, height: 400 });
});

it("a turned output maps its centre to the crop's centre and turns clockwise", () => {
  const size = { width: 101, height: 81 };
  const m = outputToReference({ angleDeg: 90 / 9, crop: { x: 0, y: 0, ...size } }, size);
  const centre = project(m, 50, 40);
  expect(centre[0]).toBeCloseTo(50, 9);
  expect(centre[1]).toBeCloseTo(40, 9);
  // a point right of the centre in the reference lies lower in the picture turned clockwise
  expect(project(invert(m), 90, 40)[1]).toBeGreaterThan(40);
});

it("appending keeps what was there", () => {
  const { history } = startJob("Test", at, "set-1");
  expect(append(EMPTY_HISTORY, history.steps[0]).steps).toHaveLength(1);
});

it("a job of version 5 keeps its layers and strokes: each becomes a layer of its frame's set with a mask of one painted part", () => {
  const mask = { ground: 0, inverted: true, parts: [{ kind: "painted", id: "p" }] };
  const layer5 = { kind: "layer", id: "l", index: 3, name: "L", frameId: "f2", exposureEv: -1.5, opacity: 0.8, mode: "lighten", visible: true, mask };
  const stroke5 = {
    kind: "stroke",
    id: "s",
    index: 0,
    layerId: "l",
    partId: "p",
    reveal: true,
    diameterPx: 9,
    softness: 1,
    flow: 1,
    opacity: 1,
    points: [1, 2, 1],
  };
  const steps = [
    { id: "a", diff: { added: { f2: { kind: "frame", id: "f2", setId: "set-2" } }, updated: {}, removed: {} } },
    { id: "b", diff: { added: { l: layer5, s: stroke5 }, updated: {}, removed: {} } },
    { id: "c", diff: { added: {}, updated: { l: [layer5, { ...layer5, opacity: 1 }] }, removed: { s: stroke5 } } },
  ];
  const migrated = MIGRATIONS[5]({ version: 5, history: { steps } }) as {
    version: number;
    history: { steps: { diff: Record<string, Record<string, unknown>> }[] };
  };
  expect(migrated.version).toBe(6);
  const [, laid, changed] = migrated.history.steps.map((s) => s.diff);
  const { base: _since13, ...began } = paintedMask(0, "p");
  const layer6 = {
    kind: "layer",
    id: "l",
    index: 3,
    setId: "set-2",
    parentId: null,
    name: "L",
    note: "",
    content: { type: "frame", frameId: "f2", exposureEv: -1.5, moved: null },
    opacity: 0.8,
    mode: "lighten",
    visible: true,
    locked: false,
    clipped: false,
    mask: { ground: 0, ...began, inverted: true },
  };
  expect(laid.added).toEqual({ l: layer6, s: { ...stroke5, edgeTolerance: 0 } });
  const later = Object.keys(MIGRATIONS).filter((v) => Number(v) > 5);
  const current = later.reduce<unknown>((job, v) => MIGRATIONS[Number(v)](job), migrated) as typeof migrated;
  expect(VALIDATORS.layer.isValidSync(current.history.steps[1].diff.added.l, { strict: true })).toBe(true);
  expect(changed.updated.l).toEqual([layer6, { ...layer6, opacity: 1 }]);
  expect(changed.removed.s).toEqual({ ...stroke5, edgeTolerance: 0 });
});

it("a job of version 6 keeps its curves, tints, strokes and moved frames: what had a fixed number of places has as many of its own", () => {
  const layer = (content: object) => ({
    ...layersOf(addLayer({ id: "l", name: "L", content: { type: "merge" } })(startJob("Test", at, "set-1").records))[0],
    content,
  });
  const adjusted = (adjustment: string, values: object) => layer({ type: "adjustment", adjustment, values });
  const stroke6 = { kind: "stroke", id: "s", layerId: "l" };
  const moved = { dx: 1, dy: 2, angleDeg: 3, scale: 1 };
  const added = {
    curve: adjusted("curve", { channel: 2, node2: 0.3 }),
    tint: adjusted("tint", { darkEv: -8, midStrength: 0.5, lightHue: 90 }),
    fill: layer({ type: "fill", red: 1, green: 0, blue: 0, grain: 0, grainPx: 2 }),
    kept: adjusted("exposure", { ev: 1 }),
    moved: layer({ type: "frame", frameId: "f", exposureEv: 0, moved, cut: null, light: null }),
    s: stroke6,
  };
  const migrated = MIGRATIONS[6]({ version: 6, history: { steps: [{ id: "a", diff: { added, updated: {}, removed: {} } }] } }) as {
    version: number;
    history: { steps: { diff: { added: Record<string, { content: { values: Record<string, number>; moved: object } }> } }[] };
  };
  expect(migrated.version).toBe(7);
  const now = migrated.history.steps[0].diff.added;
  const { nodes, channel, x2, y2, y3 } = now.curve.content.values;
  expect({ nodes, channel, x2, y2, y3 }).toEqual({ nodes: 6, channel: 2, x2: 0.25, y2: 0.3, y3: 0.5 });
  const { points, ev0, ev1, ev2, strength1, hue2 } = now.tint.content.values;
  expect({ points, ev0, ev1, ev2, strength1, hue2 }).toEqual({ points: 3, ev0: -8, ev1: -4, ev2: 0, strength1: 0.5, hue2: 90 });
  expect(now.kept.content.values).toEqual({ ev: 1 });
  expect(now.moved.content.moved).toEqual({ ...moved, corners: [0, 0, 0, 0, 0, 0, 0, 0] });
  expect(now.s).toEqual({ ...stroke6, spacing: 0.08 });
  const today = { ...now, moved: { ...now.moved, content: { ...now.moved.content, fit: null } } } as typeof now;
  for (const id of ["curve", "tint", "kept", "moved", "fill"]) expect(VALIDATORS.layer.isValidSync(today[id], { strict: true })).toBe(true);
});

it("a job of version 7 keeps its panorama, unbent and with no line said to be level", () => {
  const panorama = { kind: "panorama", view: { width: 10 }, lens: { k1: 0 } };
  const migrated = MIGRATIONS[7]({ version: 7, history: { steps: [{ id: "a", diff: { added: {}, updated: { p: [panorama, panorama] }, removed: {} } }] } }) as {
    version: number;
    history: { steps: { diff: { updated: { p: object[] } } }[] };
  };
  expect(migrated.version).toBe(8);
  for (const p of migrated.history.steps[0].diff.updated.p) expect(p).toEqual({ ...panorama, levels: [], view: { width: 10, bend: null } });
});

it("a job of version 8 keeps what was found of coloured lines; lateral colour was neither measured nor undone", () => {
  const facts = { share: 0.1, widthPx: 2, deltaE: 9, worst: [] };
  const merge = (f: object | null) => ({ kind: "merge", id: "merge-s", fringe: { removed: true, facts: f } });
  const migrated = MIGRATIONS[8]({
    version: 8,
    history: { steps: [{ id: "a", diff: { added: { m: merge(null) }, updated: { m: [merge(null), merge(facts)] } } }] },
  }) as {
    version: number;
    history: { steps: { diff: { added: { m: object }; updated: { m: object[] } } }[] };
  };
  expect(migrated.version).toBe(9);
  const { added, updated } = migrated.history.steps[0].diff;
  expect([added.m, updated.m[0]]).toEqual([0, 1].map(() => ({ ...merge(null), fringe: { removed: true, lateral: null, facts: null } })));
  expect(updated.m[1]).toEqual({ ...merge(null), fringe: { removed: true, lateral: null, facts: { ...facts, lateral: null } } });
});

describe("layers that no one could have made are refused", () => {
  const good = () =>
    JSON.parse(JSON.stringify(layersOf(addLayer({ name: "L", content: { type: "merge" } })(startJob("Test", at, "set-1").records))[0])) as Record<
      string,
      unknown
    >;
  const withPart = (part: object) => ({
    ...good(),
    mask: { ...(good().mask as object), parts: [{ id: "p", combine: "add", inverted: false, featherPx: 0, ...part }] },
  });
  it.each([
    ["content of no known kind", () => ({ ...good(), content: { type: "script" } })],
    ["an adjustment that is not known", () => ({ ...good(), content: { type: "adjustment", adjustment: "melt", values: {} } })],
    ["a value beyond its limit", () => ({ ...good(), content: { type: "adjustment", adjustment: "exposure", values: { ev: 1e9 } } })],
    ["a value that its adjustment does not have", () => ({ ...good(), content: { type: "adjustment", adjustment: "exposure", values: { heat: 1 } } })],
    ["a part of no known kind", () => withPart({ kind: "constructor" })],
    ["an outline of two corners", () => withPart({ kind: "polygon", points: [0, 0, 1, 1] })],
    ["an outline with half a corner", () => withPart({ kind: "polygon", points: [0, 0, 1, 1, 2, 2, 3] })],
    [
      "a group of parts in itself without end",
      () =>
        withPart(Array.from({ length: 9 }).reduce((p: object) => ({ kind: "group", id: "g", combine: "add", inverted: false, featherPx: 0, parts: [p] }), {})),
    ],
    [
      "corners that are not four",
      () => ({
        ...good(),
        content: wholeFrame("f", { moved: { dx: 0, dy: 0, angleDeg: 0, scale: 1, corners: [0] } }),
      }),
    ],
    ["a range that is not a number", () => withPart({ kind: "light", of: null, fromEv: "low", toEv: 1, softEv: 1 })],
  ])("%s", (_, make) => {
    expect(VALIDATORS.layer.isValidSync(good(), { strict: true })).toBe(true);
    expect(VALIDATORS.layer.isValidSync(make(), { strict: true })).toBe(false);
  });
});

it("jobs of before share no set from version 10 on: records, their ids and what refers to them are renamed, texts are not", () => {
  const old = (id: string) => ({
    version: 9,
    id,
    history: {
      head: "a",
      steps: [
        {
          id: "a",
          parent: null,
          label: "set-1",
          diff: {
            added: { job: { kind: "job", id: "job", name: "set-1", workingSetId: "set-1" }, "set-1": { kind: "set", id: "set-1" } },
            updated: {
              "merge-set-1": [
                { kind: "merge", id: "merge-set-1", setId: "set-1" },
                { kind: "merge", id: "merge-set-1", setId: "set-2" },
              ],
            },
            removed: {},
          },
        },
      ],
    },
  });
  const diffOf = (id: string) => (MIGRATIONS[9](old(id)) as ReturnType<typeof old>).history.steps[0];
  const [a, b] = [diffOf("one"), diffOf("two")];
  expect(a.label).toBe("set-1");
  expect(a.diff.added.job).toEqual({ kind: "job", id: "job", name: "set-1", workingSetId: "set-one" });
  expect(Object.keys(a.diff.added)).toEqual(["job", "set-one"]);
  expect(a.diff.updated).toEqual({
    "merge-set-one": [
      { kind: "merge", id: "merge-set-one", setId: "set-one" },
      { kind: "merge", id: "merge-set-one", setId: "set-2" },
    ],
  });
  expect(Object.keys(b.diff.added)).toEqual(["job", "set-two"]);
});

it("from version 11 on a placement says where else its frame would fit, which no job of before knew", () => {
  const placements = [{ frameId: "f", registered: true }];
  const registration = { kind: "registration", id: "registration-s", placements };
  const old = {
    version: 10,
    id: "j",
    history: { head: "a", steps: [{ id: "a", parent: null, diff: { added: { r: registration }, updated: { r: [registration, registration] }, removed: {} } }] },
  };
  const [step] = (MIGRATIONS[10](old) as { history: { steps: { diff: { added: object; updated: object } }[] } }).history.steps;
  const told = { ...registration, placements: [{ ...placements[0], otherPx: [] }] };
  expect(step.diff).toEqual({ added: { r: told }, updated: { r: [told, told] }, removed: {} });
});

it("a job of version 13 keeps every sentence it holds as it was written, on branches that were left too", () => {
  const said = (text: string) => ({ code: "written", values: { text } });
  const set = {
    kind: "set",
    id: "set-a",
    index: 0,
    setKind: "bracket",
    reasons: ["Because.", "And so."],
    confidence: 0.9,
    by: "proposed",
    links: [],
    parity: null,
  };
  const parity = { kind: "parity", id: "parity-set-a-lens", setId: "set-a", aspect: "lens", reason: "An old lens." };
  const job = { kind: "job", id: "job", name: "Old", createdAt: at, workingSetId: "set-a" };
  const step = (id: string, parent: string | null, added: object, updated: object = {}) => ({
    ...{ id, parent, at, stage: "gather", label: `Step "${id}"`, effect: null, note: "mine" },
    diff: { added, updated, removed: {} },
  });
  const other = { ...set, reasons: ["Named by hand."] };
  const steps = [step("a", null, { job, "set-a": set }), step("b", "a", { [parity.id]: parity }), step("c", "a", {}, { "set-a": [set, other] })];
  const { job: now, records } = parseDocument({ version: 13, id: "old", history: { steps, head: "b" } });
  expect(now.history.steps.map((s) => [s.label, s.note])).toEqual(["a", "b", "c"].map((id) => [said(`Step "${id}"`), "mine"]));
  expect([records["set-a"], records[parity.id]]).toMatchObject([{ reasons: [said("Because."), said("And so.")] }, { reason: said("An old lens.") }]);
  expect(recordsAt(now.history, "c")["set-a"]).toMatchObject({ reasons: [said("Named by hand.")] });
  // and what has a sentence where a message belongs is not of this version
  const { parent, ...rest } = now.history.steps[0];
  expect(refusal(() => parseDocument({ ...now, history: { steps: [{ ...rest, parent, label: "text" }], head: "a" } }))).toMatch(/cannot be read/);
});

it("a job of version 15 keeps what its frames were told, and has no alpha and no fits", () => {
  const frame = {
    kind: "frame",
    id: "f",
    notes: [
      { code: "png.transparency", values: {} },
      { code: "png.animation", values: {} },
    ],
  };
  const layer = { kind: "layer", id: "l", content: { type: "frame", frameId: "f", cut: null } };
  const job = { version: 15, history: { steps: [{ id: "a", diff: { added: { f: frame, l: layer }, updated: {}, removed: {} } }] } };
  const { version, history } = MIGRATIONS[15](job) as { version: number; history: { steps: { diff: { added: Record<string, object> } }[] } };
  const { f, l } = history.steps[0].diff.added;
  expect(version).toBe(16);
  expect(f).toMatchObject({ alpha: null, notes: [{ code: "written", values: { text: "The PNG's transparency is left out." } }, { code: "png.animation" }] });
  expect(l).toMatchObject({ content: { frameId: "f", fit: null } });
});

it("a frame that is removed takes no help along: a plate's layer goes by its box again, and light keeps what was there", () => {
  const box = { x: 1, y: 2, width: 30, height: 40 };
  const content = {
    type: "frame" as const,
    exposureEv: 0,
    moved: null,
    fit: null,
    cut: { by: "plate" as const, box, plateId: "p", plateMatrix: null, marks: [] },
    light: { black: [0, 0, 0], warmthMired: 0, ambientId: "p" },
  };
  const started = addFrames([newFrame({ sourceId: "0".repeat(64) }), newFrame({ sourceId: "1".repeat(64) })])(
    startJob("Test", "2026-01-01T00:00:00Z", "set-1").records,
  );
  const [own, plate] = framesOf(started).map((f) => f.id);
  const of = { ...content, frameId: own, cut: { ...content.cut, plateId: plate }, light: { ...content.light, ambientId: plate } };
  const records = addLayer({ id: "l", name: "L", content: of })(started);
  const without = removeFrame(plate)(records);
  expect(without.l).toMatchObject({ content: { cut: { by: "box", box, plateId: null }, light: { ambientId: null } } });
  // the frame itself takes its layer along
  expect(removeFrame(own)(records).l).toBeUndefined();
});
