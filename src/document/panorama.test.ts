import { written } from "../messages/message";
import { newFrame, newStroke } from "../../tests/support/records";
import { multiply, project } from "../core/geometry/matrix3";
import { rayOf, rotationOf, type Camera } from "../core/panorama/camera";
import { bentView } from "../core/panorama/fillRectangle";
import { layOut, viewMap } from "../core/panorama/layout";
import { straighten } from "../core/panorama/level";
import { addFrames, addPin, addRecord, developFrames, setGeometry, startJob, takeStep, unmovedRegistration } from "./edits";
import { addLayer, paintedMask } from "./layerEdits";
import { DOCUMENT_VERSION, MIGRATIONS } from "./migrations/migrations";
import { paintDonor } from "./mergeEdits";
import { levelPinOf, setLevels, setPanorama, setPanoramaView } from "./panoramaEdits";
import { checkRecord, parseDocument } from "./parseDocument";
import type { LayerRecord } from "./records/layerTypes";
import { UNMOVED, type Moved, wholeFrame } from "../kinds/contents/frame/record";
import { movedMatrix } from "./outputGeometry";
import type { PanoramaRecord } from "./records/panoramaTypes";
import type { Records } from "./records/types";
import { documentSize, framesOf, geometryOf, ghostsOf, levelLinesOf, panoramaCamerasOf, panoramaOf, pinsOf, registrationOf, strokesOf } from "./selectors";
import { coverTest, validCrop } from "./validCrop";

const at = "2026-01-01T00:00:00.000Z";
const text = { stage: "register", label: written("step") };

/** Mean of the places that a line was said to run through, as directions. */
const ends = (records: Records) => levelLinesOf(records).flatMap(({ line }) => [line.a, line.b]);

/** A job with three frames side by side, laid out cylindrically. */
function laidOut(): Records {
  const records = addFrames([newFrame(), newFrame(), newFrame()])(startJob("Wide", at).records);
  const frames = framesOf(records);
  const rotations = [-40, 0, 40].map((yawDeg) => rotationOf({ yawDeg, pitchDeg: 0, rollDeg: 0 }));
  const lens = { focalPx: 250, focalSd: 0, toldFocalPx: null, k1: 0, k2: 0, shiftX: 0, shiftY: 0 };
  const cameras = rotations.map((rotation): Camera => ({ width: 300, height: 200, rotation, ...lens }));
  const panorama: PanoramaRecord = {
    kind: "panorama",
    id: `panorama-${frames[0].setId}`,
    setId: frames[0].setId,
    operationVersion: 1,
    lens,
    frames: frames.map((f, i) => ({ frameId: f.id, rotation: rotations[i], sdDeg: 0.001, gainEv: [0, 0, 0] })),
    pairs: [],
    points: [],
    levels: [],
    falloff: [0, 0, 0],
    view: layOut(cameras, straighten(cameras), "cylindrical")!,
    proposal: { projection: "cylindrical", reason: written("") },
  };
  const registration = { ...unmovedRegistration(frames, frames[1], 1), proposedCrop: { x: 10, y: 20, width: 300, height: 120 } };
  return setPanorama(registration, panorama)(records);
}

it("a panorama is the size of its picture, and its records are sound", () => {
  const records = laidOut();
  expect(documentSize(records)).toBe(panoramaOf(records)!.view);
  expect(panoramaCamerasOf(records)).toHaveLength(3);
  checkRecord(panoramaOf(records)!);
  const { history } = takeStep(startJob("Wide", at).history, startJob("Wide", at).records, () => records, text, at);
  const parsed = parseDocument(JSON.parse(JSON.stringify({ version: DOCUMENT_VERSION, id: "x", history })));
  expect(panoramaOf(parsed.records)).toEqual(JSON.parse(JSON.stringify(panoramaOf(records))));
  expect(() => checkRecord({ ...panoramaOf(records)!, view: { ...panoramaOf(records)!.view, width: 1e9 } })).toThrow();
});

it("what is painted, pinned and cropped stays on its things when the projection changes, and places given to a frame are given up", () => {
  let records = laidOut();
  const [first] = framesOf(records);
  const from = viewMap(panoramaOf(records)!.view);
  records = addLayer({
    id: "l",
    name: "L",
    content: wholeFrame(first.id),
    mask: paintedMask(0, "p"),
  })(records);
  records = addRecord(newStroke({ diameterPx: 20, points: [60, 90, 1, 80, 95, 0.5] }))(records);
  records = addPin({ purpose: "stay", x: 420, y: 130, radius: 0, target: null })(records);
  records = setGeometry({ angleDeg: 0, crop: { x: 100, y: 40, width: 300, height: 120 }, ratio: 2.5 })(records);
  records = paintDonor([3, 4, 9], 4, first.id)(records);
  const cameras = panoramaCamerasOf(records);
  const view = layOut(cameras, panoramaOf(records)!.view, "stereographic")!;
  const after = setPanoramaView(view, { x: 0, y: 0, width: 50, height: 40 })(records);
  const to = viewMap(view);
  const same = (x: number, y: number, u: number, v: number) => to.toRay(u, v)!.forEach((c, i) => expect(c).toBeCloseTo(from.toRay(x, y)![i], 8));
  const [stroke] = strokesOf(after, "l");
  same(60, 90, stroke.points[0], stroke.points[1]);
  same(80, 95, stroke.points[3], stroke.points[4]);
  expect([stroke.points[2], stroke.points[5]]).toEqual([1, 0.5]);
  // things at the side are larger in a stereographic picture
  expect(stroke.diameterPx).toBeGreaterThan(20);
  same(420, 130, pinsOf(after)[0].x, pinsOf(after)[0].y);
  expect(registrationOf(after)!.proposedCrop.width).toBe(50);
  const crop = geometryOf(after)!.crop;
  expect(crop.x).toBeGreaterThanOrEqual(0);
  expect(crop.x + crop.width).toBeLessThanOrEqual(view.width);
  expect(crop.width / crop.height).toBeGreaterThan(2);
  expect(ghostsOf(after)).toEqual([]);
});

it("a layout made anew, in a world of its own, keeps what was painted and pinned on its things", () => {
  let records = laidOut();
  records = addPin({ purpose: "stay", x: 420, y: 130, radius: 0, target: null })(records);
  const old = panoramaOf(records)!;
  // the same cameras, but the first one fixed: all directions are turned by 40°
  const world = rotationOf({ yawDeg: 40, pitchDeg: 0, rollDeg: 0 });
  const frames = old.frames.map((f) => ({ ...f, rotation: multiply(world, f.rotation!) }));
  const view = { ...old.view, yawDeg: 40 };
  const again = setPanorama(registrationOf(records)!, { ...old, frames, view })(records);
  expect(pinsOf(again)[0].x).toBeCloseTo(420, 6);
  expect(pinsOf(again)[0].y).toBeCloseTo(130, 6);
});

it("the largest crop lies inside the frames, also when the picture is turned", () => {
  const records = laidOut();
  for (const angle of [0, 3]) {
    const crop = validCrop(records, { angleDeg: angle }, null);
    expect(crop.width * crop.height).toBeGreaterThan(0.5 * panoramaOf(records)!.view.width * 150);
  }
  const covered = coverTest(records);
  const { x, y, width, height } = validCrop(records, { angleDeg: 0 }, 2);
  expect(width / height).toBeCloseTo(2, 1);
  for (const [u, v] of [
    [x, y],
    [x + width - 1, y + height - 1],
  ])
    expect(covered(u, v)).toBe(true);
  expect(covered(0, 0)).toBe(false);
});

it("another lens given to the frames undoes the layout, and jobs of version 4 gain no seams", () => {
  const records = laidOut();
  expect(panoramaOf(developFrames([framesOf(records)[0].id], { lens: { k1: 0.01, k2: 0 } })(records))).toBeUndefined();
  const diff = { added: { m: { kind: "merge", id: "m" } }, updated: {}, removed: {} };
  const migrated = MIGRATIONS[4]({ version: 4, history: { steps: [{ id: "a", diff }] } }) as { version: number; history: { steps: { diff: unknown }[] } };
  expect(migrated.version).toBe(5);
  expect(migrated.history.steps[0].diff).toEqual({ added: { m: { kind: "merge", id: "m", seams: null } }, updated: {}, removed: {} });
});

it("a frame's corners lie where its camera looks", () => {
  const records = laidOut();
  const [camera] = panoramaCamerasOf(records);
  const p = viewMap(panoramaOf(records)!.view).toPixel(rayOf(camera, 0, 0))!;
  expect(p[0]).toBeGreaterThanOrEqual(-1);
  expect(p[0]).toBeLessThan(3);
});

it("a line said to be level is kept with the frames that show it, and lies level whatever they are turned by", () => {
  let records = laidOut();
  const map = viewMap(panoramaOf(records)!.view);
  const [a, b] = [map.toRay(80, 60)!, map.toRay(400, 75)!];
  const pin = levelPinOf(records, { kind: "level", a, b })!;
  expect(pin.a.frameId).not.toBe(pin.b.frameId);
  records = setLevels([pin])(records);
  checkRecord(panoramaOf(records)!);
  const cosine = (u: readonly number[], v: readonly number[]) => u.reduce((s, x, i) => s + x * v[i], 0) / Math.hypot(...u) / Math.hypot(...v);
  ends(records).forEach((ray, i) => expect(cosine(ray, [a, b][i])).toBeCloseTo(1, 10));
  // the same frames in another world
  const turn = rotationOf({ yawDeg: 30, pitchDeg: 5, rollDeg: -4 });
  const before = panoramaOf(records)!;
  const turned = { ...before, frames: before.frames.map((f) => ({ ...f, rotation: multiply(turn, f.rotation!) })) };
  const after = setPanorama(registrationOf(records)!, turned)(records);
  expect(cosine(ends(after)[0], ends(after)[1])).toBeCloseTo(cosine(a, b), 10);
  // what lies outside every frame cannot be kept
  expect(levelPinOf(records, { kind: "upright", a, b: [0, 5, 0.1] })).toBeNull();
});

it("bent outwards, what was marked stays on its things, and no crop holds what no frame shows", () => {
  let records = addPin({ purpose: "stay", x: 90, y: 40, radius: 0, target: null })(laidOut());
  const { view } = panoramaOf(records)!;
  const ray = viewMap(view).toRay(90, 40)!;
  const bent = bentView(view, panoramaCamerasOf(records), 1);
  expect(bent.bend!.amount).toBe(1);
  records = setPanoramaView(bent, { x: 0, y: 0, width: 10, height: 10 })(records);
  checkRecord(panoramaOf(records)!);
  const [x, y] = viewMap(bent).toPixel(ray)!;
  expect(pinsOf(records)[0]).toMatchObject({ x: expect.closeTo(x, 6) as number, y: expect.closeTo(y, 6) as number });
  const crop = validCrop(records, { angleDeg: 0 }, null);
  const covered = coverTest(records);
  for (const [u, v] of [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
    [0.5, 0],
  ])
    expect(covered(crop.x + u * (crop.width - 1), crop.y + v * (crop.height - 1))).toBe(true);
});

it("a frame put elsewhere and the source of a retouch go along to another projection", () => {
  let records = laidOut();
  const [first] = framesOf(records);
  const from = viewMap(panoramaOf(records)!.view);
  const camera = panoramaCamerasOf(records)[0];
  const middle = rayOf(camera, 149.5, 99.5);
  const [x, y] = from.toPixel(middle)!;
  records = addLayer({
    id: "f",
    name: "F",
    content: wholeFrame(first.id, { moved: { ...UNMOVED, dx: 120, dy: 9 } }),
  })(records);
  const retouch = { type: "retouch", method: "heal", dx: 50, dy: 12, angleDeg: 0, scale: 1, mirrored: false } as const;
  records = addLayer({ id: "l", name: "R", content: retouch, mask: paintedMask(0, "p") })(records);
  records = addRecord(newStroke({ diameterPx: 20, points: [60, 90, 1, 64, 92, 1] }))(records);
  const [shown, area, source] = [from.toRay(x + 120, y + 9)!, from.toRay(62, 91)!, from.toRay(112, 103)!];
  const view = layOut(panoramaCamerasOf(records), panoramaOf(records)!.view, "stereographic")!;
  const to = viewMap(view);
  const after = setPanoramaView(view, { x: 0, y: 0, width: 10, height: 10 })(records);
  const content = (id: string) => (after[id] as LayerRecord).content;
  const { moved } = content("f") as { moved: Moved };
  const [nx, ny] = project(movedMatrix(moved, view), ...to.toPixel(middle)!);
  const wanted = to.toPixel(shown)!;
  expect(Math.hypot(nx - wanted[0], ny - wanted[1])).toBeLessThan(1e-6);
  const { dx, dy } = content("l") as { dx: number; dy: number };
  const [p, q] = [to.toPixel(area)!, to.toPixel(source)!];
  expect(Math.hypot(dx - q[0] + p[0], dy - q[1] + p[1])).toBeLessThan(1e-6);
});
