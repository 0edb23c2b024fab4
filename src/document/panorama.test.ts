import { newFrame, newStroke } from "../../tests/support/records";
import { multiply } from "../core/geometry/matrix3";
import { rayOf, rotationOf, type Camera } from "../core/panorama/camera";
import { layOut, viewMap } from "../core/panorama/layout";
import { straighten } from "../core/panorama/level";
import { addFrames, addPin, addRecord, developFrames, setGeometry, startJob, takeStep, unmovedRegistration } from "./edits";
import { addLayer, paintedMask } from "./layerEdits";
import { DOCUMENT_VERSION, MIGRATIONS } from "./migrations";
import { paintDonor } from "./mergeEdits";
import { setPanorama, setPanoramaView } from "./panoramaEdits";
import { checkRecord, parseDocument } from "./parseDocument";
import type { PanoramaRecord, Records } from "./records/types";
import { documentSize, framesOf, geometryOf, ghostsOf, panoramaCamerasOf, panoramaOf, pinsOf, registrationOf, strokesOf } from "./selectors";
import { coverTest, validCrop } from "./validCrop";

const at = "2026-01-01T00:00:00.000Z";
const text = { stage: "register", label: "step" };

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
    falloff: [0, 0, 0],
    view: layOut(cameras, straighten(cameras), "cylindrical")!,
    proposal: { projection: "cylindrical", reason: "" },
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
  records = addLayer({ id: "l", name: "L", content: { type: "frame", frameId: first.id, exposureEv: 0, moved: null }, mask: paintedMask(0, "p") })(records);
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
    const crop = validCrop(records, angle, null);
    expect(crop.width * crop.height).toBeGreaterThan(0.5 * panoramaOf(records)!.view.width * 150);
  }
  const covered = coverTest(records);
  const { x, y, width, height } = validCrop(records, 0, 2);
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
