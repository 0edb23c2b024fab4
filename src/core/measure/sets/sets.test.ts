import { message } from "../../../messages/message";
import { sentence } from "../../../messages/sentence";
import { SET_RECORDS, type SetKind } from "../../../kinds/sets/records";
import { CELL_SAMPLES, lonelyCells, shareWithoutPlate } from "./cleanPlate";
import { canBeMadeEqual, compareParity, type FrameParity, type ParityFrame } from "./parity";
import fc from "fast-check";
import { shootingOrder, type Shot } from "./shootingOrder";
import { joinScattered, mayBeScattered, proposeSets, type Link } from "./proposeSets";
import { describeSteps, focusLeaders, unsharpCells, verifySet, type VerifiedFrame } from "./verifySet";

const frame = (number: number, ev: number | null, over: Partial<VerifiedFrame> = {}): VerifiedFrame => ({
  id: `f${number}`,
  number,
  width: 100,
  height: 80,
  takenS: number,
  camera: "One",
  aperture: 8,
  focalLengthMm: 24,
  meteredEv: ev,
  measuredEv: ev,
  brightness: 0.2,
  sharpness: Array.from({ length: 24 }, () => 1),
  stars: 0,
  plainBorder: 0.1,
  fingerprint: `p${number}`,
  edgeWidthPx: 1.5,
  ...over,
});
const still: Link = { score: 0.6, dx: 0.004, dy: 0 };
const aside: Link = { score: 0.5, dx: 0.65, dy: 0.01 };
const other: Link = { score: 0.1, dx: 0.2, dy: 0.1 };
const kinds = (frames: VerifiedFrame[], links: Link[]) => proposeSets(frames, links).map((s) => [s.kind, s.frameIds.join(" ")]);

it("a bracket, another scene, and a panorama in one folder are three sets", () => {
  const frames = [frame(1, -2), frame(2, 0), frame(3, 2), frame(4, 0), frame(5, 0), frame(6, 0), frame(7, 0)];
  expect(kinds(frames, [still, still, other, other, aside, aside])).toEqual([
    ["bracket", "f1 f2 f3"],
    ["single", "f4"],
    ["panorama", "f5 f6 f7"],
  ]);
});

it("a ladder that repeats is as many brackets", () => {
  const frames = [-2, 0, 2, -2, 0, 2].map((ev, i) => frame(i + 1, ev));
  expect(kinds(frames, [still, still, aside, still, still])).toEqual([
    ["bracket", "f1 f2 f3"],
    ["bracket", "f4 f5 f6"],
  ]);
});

it("a picture of another day stands by itself beside a bracket of the same view, but one view over many days is one set", () => {
  const YEAR = 365 * 86_400;
  const bracket = [frame(1, -2), frame(2, 0), frame(3, 2), frame(4, 0, { takenS: -YEAR })];
  expect(kinds(bracket, [still, still, still])).toEqual([
    ["bracket", "f1 f2 f3"],
    ["single", "f4"],
  ]);
  const over = [0, 1, 2].map((day) => frame(day + 1, 0, { takenS: day * 86_400 }));
  expect(kinds(over, [still, still])).toEqual([["separate", "f1 f2 f3"]]);
});

it("settings far apart but pictures equally bright mean that the light changed", () => {
  const frames = [frame(1, 0, { measuredEv: 0 }), frame(2, 4, { measuredEv: 0.4 }), frame(3, 7, { measuredEv: 1 })];
  const [set] = proposeSets(frames, [still, still]);
  expect(set.kind).toBe("separate");
  expect(sentence(set.reasons[0])).toBe("The settings differ by 7.0 EV, the pictures by 1.0 EV only: the light changed between the frames.");
});

it("sharpness that moves through the picture is a focus stack", () => {
  const sharpAt = (from: number) => Array.from({ length: 24 }, (_, c) => (c >= from && c < from + 8 ? 1 : 0.3));
  const frames = [0, 8, 16].map((at, i) => frame(i + 1, 0, { sharpness: sharpAt(at) }));
  expect(kinds(frames, [still, still])).toEqual([["focus", "f1 f2 f3"]]);
  expect(verifySet(SET_RECORDS.focus.checks, frames, [])).toEqual([]);
});

it("one moment developed twice, a cut-out with its plate, stars, and repeats", () => {
  expect(kinds([frame(1, 0, { takenS: 7 }), frame(2, 0, { takenS: 7 })], [{ score: 0.9, dx: 0, dy: 0 }])).toEqual([["developed", "f1 f2"]]);
  expect(kinds([frame(1, null, { plainBorder: 0.99 }), frame(2, null)], [other])).toEqual([["cutout", "f1 f2"]]);
  const dark = { stars: 300, brightness: 0.01 };
  expect(kinds([frame(1, 0, dark), frame(2, 0, dark)], [other])).toEqual([["sky", "f1 f2"]]);
  const same: Link = { score: 0.97, dx: 0, dy: 0 };
  expect(kinds([frame(1, 0), frame(2, 0), frame(3, 0)], [same, same])).toEqual([["repeats", "f1 f2 f3"]]);
});

it("names the steps of a ladder, as metered and as measured", () => {
  expect(describeSteps([frame(1, -2), frame(2, 0, { measuredEv: 0.02 }), frame(3, 2)])).toEqual({ metered: 2, measured: 2.02 });
  expect(describeSteps([frame(1, null, { measuredEv: 0 }), frame(2, null, { measuredEv: 2 })])).toEqual({ metered: null, measured: 2 });
});

const odd = (kind: SetKind, frames: VerifiedFrame[], links: Link[] = []) => verifySet(SET_RECORDS[kind].checks, frames, links).map((o) => sentence(o.told));

it("says what is odd about a bracket: size, gap, duplicate, blur, order, metadata that lies", () => {
  expect(odd("bracket", [frame(1, -2), frame(2, 0), frame(3, 2, { width: 90 })])).toEqual(["Frame 3 is 90×80 px, the others are 100×80."]);
  expect(odd("bracket", [frame(1, -2), frame(2, 0, { width: 90 })])).toEqual(["The frames have different sizes: 1 is 100×80 and 2 is 90×80 px."]);
  expect(odd("bracket", [frame(1, -2), frame(2, 0), frame(3, 2), frame(4, 6)])).toEqual(["Gap in the ladder: 4.0 EV between frames 3 and 4."]);
  expect(odd("bracket", [frame(1, -2), frame(2, 0), frame(3, 0, { fingerprint: "p2" })])).toContain("Frame 3 is the same file as frame 2.");
  expect(odd("bracket", [frame(1, -2), frame(2, 0, { edgeWidthPx: 4 }), frame(3, 2)])).toEqual([
    "Frame 2 is blurred: its edges are 4.0 px wide, 1.5 px is usual here.",
  ]);
  expect(odd("bracket", [frame(1, -2), frame(2, 0), frame(3, 2, { measuredEv: 2.3 })])).toEqual(["Frame 3 is 0.3 EV brighter than its metadata says."]);
  const mixed = [0, 4, -4, 2, -2].map((ev, i) => frame(i + 1, ev));
  expect(odd("bracket", mixed)).toEqual(["The frames are not in the order of their exposures; Marsh sorts them itself."]);
});

it("frames of one panorama gathered in any order become one set, two lone frames or another camera's do not", () => {
  const single = (id: string) => ({ kind: "single" as const, frameIds: [id], reasons: [], confidence: 0.9, links: [] });
  const near = { score: 0.6, dx: 0.4, dy: 0 };
  const far = { score: 0.1, dx: 0, dy: 0 };
  const sets = ["a", "b", "c", "d"].map(single);
  const joined = joinScattered(sets, [
    { a: "a", b: "c", link: near },
    { a: "b", b: "d", link: far },
    { a: "c", b: "d", link: near },
  ]);
  expect(joined.map((s) => [s.kind, s.frameIds.join("")])).toEqual([
    ["panorama", "acd"],
    ["single", "b"],
  ]);
  expect(joined[0].links).toHaveLength(2);
  expect(joinScattered(sets, [{ a: "a", b: "c", link: near }])).toBe(sets);
  expect(mayBeScattered(frame(1, 0), frame(2, 0, { width: 300 }))).toBe(false);
});

it("a scene gone over twice is two panoramas", () => {
  const pass = (ids: string[]) => ({ kind: "panorama" as const, frameIds: ids, reasons: [], confidence: 0.9, links: ids.slice(1).map(() => aside) });
  const sets = [pass(["a", "b", "c"]), pass(["d", "e", "f"])];
  const links = [
    { a: "b", b: "d", link: aside },
    { a: "a", b: "d", link: still },
  ];
  expect(joinScattered(sets, links)).toBe(sets);
  // where no view is shown twice they are parts of one
  expect(joinScattered(sets, links.slice(0, 1))).toHaveLength(1);
});

describe("the order in which frames were taken", () => {
  const shot = (fileName: string, takenS: number | null, camera = "One"): Shot => ({ fileName, takenS, camera });
  const orderOf = (shots: Shot[]) => shootingOrder(shots).map((i) => shots[i].fileName);

  it("is told by time, of one moment by name, of none by name alone", () => {
    expect(orderOf([shot("b", 2), shot("c", 1), shot("a", 3)])).toEqual(["c", "b", "a"]);
    expect(orderOf([shot("p10", 5), shot("p9", 5), shot("p1", 5)])).toEqual(["p1", "p9", "p10"]);
    expect(orderOf([shot("p10", null), shot("p9", null)])).toEqual(["p9", "p10"]);
  });

  it("keeps cameras apart, and puts frames without a time where their names say if names follow time", () => {
    expect(orderOf([shot("x1", 4, "Two"), shot("a1", 1), shot("x2", 6, "Two"), shot("a2", 5)])).toEqual(["a1", "a2", "x1", "x2"]);
    expect(orderOf([shot("p3", 30), shot("p2", null), shot("p1", 10)])).toEqual(["p1", "p2", "p3"]);
    expect(orderOf([shot("p1", 30), shot("p2", null), shot("p3", 10)])).toEqual(["p3", "p1", "p2"]);
  });

  it("is the same in whatever order they are given", () => {
    const shots = fc.uniqueArray(
      fc.record({ fileName: fc.string({ minLength: 1, maxLength: 3 }), takenS: fc.option(fc.nat(5)), camera: fc.constantFrom("One", "Two", null) }),
      { selector: (s) => s.fileName, maxLength: 12 },
    );
    fc.assert(
      fc.property(shots, fc.infiniteStream(fc.nat()), (given, numbers) => {
        const shuffled = given.map((s) => [numbers.next().value as number, s] as const).sort((a, b) => a[0] - b[0]);
        expect(orderOf(shuffled.map(([, s]) => s))).toEqual(orderOf(given));
      }),
    );
  });
});

it("says what is odd about a panorama: little overlap, nothing locked", () => {
  const frames = [frame(1, 0), frame(2, 0.7, { focalLengthMm: 28 })];
  expect(odd("panorama", frames, [{ score: 0.4, dx: 0.9, dy: 0 }])).toEqual([
    "Frames 1 and 2 overlap by 10 % only; 30 % is safe.",
    "The exposure was not locked: it differs by 0.7 EV.",
    "The focal length differs between the frames.",
  ]);
});

it("finds what is sharp in no frame of a focus stack, apertures that show dust, and depth that was too small", () => {
  const hole = Array.from({ length: 24 }, (_, c) => (c < 6 ? 0.2 : 1));
  expect(unsharpCells([frame(1, 0, { sharpness: hole }), frame(2, 0, { sharpness: hole })])).toEqual([0, 1, 2, 3, 4, 5]);
  expect(odd("focus", [frame(1, 0, { sharpness: hole }), frame(2, 0, { sharpness: hole })])).toEqual(["25 % of the picture is sharp in no frame."]);
  const near = Array.from({ length: 24 }, (_, c) => (c < 8 ? 1 : c < 16 ? 0.2 : NaN));
  const far = Array.from({ length: 24 }, (_, c) => (c < 8 ? 0.3 : c < 12 ? 0.9 : c < 16 ? 0.25 : NaN));
  const leaders = focusLeaders([frame(1, 0, { sharpness: near }), frame(2, 0, { sharpness: far })]);
  expect(leaders.map((l) => `${l.number}${l.sharp ? "" : "!"}`)).toEqual([
    ...Array(8).fill("1"),
    ...Array(4).fill("2"),
    ...Array(4).fill("2!"),
    ...Array(8).fill("null"),
  ]);
  expect(odd("bracket", [frame(1, 0, { aperture: 16 }), frame(2, 2, { aperture: 16 })])[0]).toMatch(/f\/16: dust/);
  const shallow = Array.from({ length: 24 }, (_, c) => (c < 14 ? 0.3 : 1));
  expect(odd("bracket", [frame(1, 0, { aperture: 2.8, sharpness: shallow }), frame(2, 2, { aperture: 2.8, sharpness: shallow })])[0]).toMatch(/58 % .* soft/);
});

describe("parity", () => {
  const frames: ParityFrame[] = [1, 2, 3, 4].map((n) => ({
    id: `f${n}`,
    number: n,
    width: 100,
    height: 80,
    colorName: "sRGB",
    software: null,
    edgeWidthPx: 1.5,
    bits: 8,
  }));
  const same: Omit<FrameParity, "frameId"> = { comparable: true, rotationDeg: 0, scale: 1, k1: 0, redEv: 0, blueEv: 0, tone: 1, alone: [] };
  const measured = (over: Partial<FrameParity>): FrameParity[] => frames.map((f, i) => ({ ...same, frameId: f.id, ...(i === 2 ? over : {}) }));

  it("equal frames have no difference", () => {
    expect(compareParity(frames, measured({}))).toEqual([]);
  });

  it("a lens corrected in all frames but one is named with its sign, and is geometry", () => {
    const [lens, ...rest] = compareParity(frames, measured({ k1: -0.045 }));
    expect(lens).toEqual({
      aspect: "lens",
      geometric: true,
      usual: null,
      frames: [{ frameId: "f3", number: 3, what: message("parity.barrel", { k1: -0.045, others: 3 }), k1: -0.045 }],
    });
    expect(rest).toEqual([]);
  });

  it("white balance, tone, colour space and sharpening are differences, but not geometry", () => {
    const changed = frames.map((f, i) => (i === 1 ? { ...f, colorName: "Display P3", edgeWidthPx: 3 } : f));
    const found = compareParity(changed, measured({ redEv: 0.3, blueEv: -0.3, tone: 0.8 }));
    expect(found.map((d) => d.aspect)).toEqual(["whiteBalance", "tone", "colorSpace", "sharpening"]);
    expect(found.every((d) => !d.geometric)).toBe(true);
    expect(sentence(found[0].frames[0].what)).toMatch(/^0\.4 EV warmer than frame [124]$/);
  });

  it("files that another version of a program wrote are told, where all files say which", () => {
    const written = (...by: (string | null)[]) =>
      compareParity(
        frames.map((f, i) => ({ ...f, software: by[i] })),
        measured({}),
      ).map((d) => [d.aspect, d.geometric, d.usual && sentence(d.usual), d.frames.map((f) => sentence(f.what))]);
    expect(written("Developer 7.1", "Developer 7.1", "Developer 7.1", "Developer 6.0")).toEqual([["software", false, "Developer 7.1", ["Developer 6.0"]]]);
    expect(written("Developer 7.1", null, "Developer 7.1", "Developer 6.0")).toEqual([]);
  });

  it("a frame on its side or head has the quarter turns that lay it like the others; a tilted one has none", () => {
    const back = (rotationDeg: number) =>
      compareParity(frames, measured({ rotationDeg }))
        .find((d) => d.aspect === "rotation")
        ?.frames.map((f) => f.quarterTurns);
    expect([91, -88, 179, -178, 45].map(back)).toEqual([[3], [1], [2], [2], [undefined]]);
  });

  it("another size is told apart: cropped, made smaller, or turned on its side", () => {
    const sized = (width: number, height: number, over: Partial<FrameParity>) =>
      compareParity(
        frames.map((f, i) => (i === 2 ? { ...f, width, height } : f)),
        measured(over),
      ).map((d) => [d.aspect, sentence(d.frames[0].what)]);
    expect(sized(50, 80, {})).toEqual([["size", "50×80 px, cropped: it shows 50 % of the view"]]);
    expect(sized(50, 40, { scale: 0.5 })).toEqual([["size", "50×40 px, the whole view at 50 %"]]);
    expect(sized(100, 40, { scale: 2 })[0]).toEqual(["size", "100×40 px, at 200 % and cropped to 13 % of the view"]);
    expect(sized(80, 100, { rotationDeg: 90 })).toEqual([["rotation", "turned by 90° against the others"]]);
    // the odd one may be what the others were measured against
    const turned = frames.map((f, i) => (i === 2 ? { ...f, width: 80, height: 100 } : f));
    const againstIt = frames.map((f, i) => ({ ...same, frameId: f.id, rotationDeg: i === 2 ? 0 : -90 }));
    expect(compareParity(turned, againstIt).map((d) => [d.aspect, sentence(d.frames[0].what)])).toEqual([["rotation", "turned by 90° against the others"]]);
  });

  it("a tone response is named by its exponent against the others, which its inverse makes equal", () => {
    const [tone] = compareParity(frames, measured({ tone: 0.8 }));
    expect(tone.frames[0]).toMatchObject({ what: message("parity.softer", { others: 3, exponent: 0.8 }), tone: 0.8 });
    expect(canBeMadeEqual("tone", [{ bits: 8 }, { bits: 16 }])).toBe(true);
    expect(canBeMadeEqual("tone", [{ bits: 8 }, { bits: 32 }])).toBe(false);
    expect(canBeMadeEqual("sharpening", [{ bits: 8 }])).toBe(false);
  });

  it("a frame that could not be laid on the others says nothing about lens or light", () => {
    expect(compareParity(frames, measured({ comparable: false, k1: 0.3, tone: 3 }))).toEqual([]);
  });
});

describe("clean plate", () => {
  const texture = (seed: number) => Float32Array.from({ length: CELL_SAMPLES ** 2 }, (_, k) => Math.sin(seed * 37 + k * (1 + seed)));
  const plain = (level: number) => new Float32Array(CELL_SAMPLES ** 2).fill(level);
  const brighter = (v: Float32Array, ev: number) => v.map((x) => x + ev);

  it("a frame is alone where it shows what no other shows, whatever the light", () => {
    const background = [texture(1), plain(-3), texture(2), null];
    const passer = [texture(5), plain(-3.1), brighter(texture(2), 1), texture(3)];
    expect(lonelyCells([background, background, passer])).toEqual([[], [], [0]]);
    expect(lonelyCells([[plain(0)], [plain(-0.2)], [plain(2)]])).toEqual([[], [], [0]]);
  });

  it("without two frames that agree there is no plate; where one frame disagrees the others give it", () => {
    const of = (alone: number[][]) => alone.map((a, i) => ({ ...parityOf(`f${i}`), alone: a }));
    const parityOf = (frameId: string): FrameParity => ({
      frameId,
      comparable: true,
      rotationDeg: 0,
      scale: 1,
      k1: 0,
      redEv: 0,
      blueEv: 0,
      tone: 1,
      alone: [],
    });
    expect(shareWithoutPlate(of([[1], [2], [3]]))).toBe(0);
    expect(
      shareWithoutPlate(
        of([
          [1, 2, 3, 4],
          [1, 2, 3],
          [1, 2, 3],
        ]),
      ),
    ).toBeCloseTo(3 / 384);
    const frames = [frame(1, 0), frame(2, 0), frame(3, 0)];
    const cells = Array.from({ length: 20 }, (_, k) => k);
    expect(verifySet(SET_RECORDS.separate.checks, frames, [], of([cells, cells, cells])).map((o) => sentence(o.told))).toEqual([
      "In 5 % of the picture no two frames agree, so there is no clean plate there: shoot one without anything in the way.",
    ]);
  });
});
