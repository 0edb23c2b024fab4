/** Plates and what is seated in them: sizes follow the ground, and go where what they lie on goes. */
import { newFrame } from "../../tests/support/records";
import { project, type Matrix3 } from "../core/geometry/matrix3";
import { GroundCamera } from "../core/seat/groundCamera";
import { horizonEnds } from "../core/seat/upright";
import { wholeFrame } from "../kinds/contents/frame/record";
import { addFrames, setRegistration, startJob, turnFrames, unmovedRegistration } from "./edits";
import { removeLayer } from "./removal";
import { copySeats } from "./copySeats";
import { addLayer, updateLayer } from "./layerEdits";
import { freshMerge, setMerge } from "./mergeEdits";
import { movedMatrix, movedOf } from "./outputGeometry";
import { VALIDATORS } from "./records/validators";
import type { Records } from "./records/types";
import { addSeat, changeSeat, guessedPlate, lightByDate, mirrorSeat, notedFocal, removeSeat, tellPlate } from "./seatEdits";
import { cameraOf, lightAt, lightOf, seatFigures, seenFromBeside, sunFromSky } from "./seatGeometry";
import { contactOf, layShadow, shadowOf } from "./shadowEdits";
import { childrenOf, framesOf, layerOf, layersOf, plateOf, seatsOf } from "./selectors";

const SIZE = { width: 1200, height: 800 };
const OWN = { width: 600, height: 900 };
const STANCE = { pitchDeg: -5, rollDeg: 1.5, focalPx: 1000 };
const FEET = { footX: 300, footY: 880, topX: 310, topY: 40 };

/** A plate, and a picture beside it that a layer shows. */
function job(): Records {
  const frames = addFrames([newFrame({ sourceId: "a".repeat(64), ...SIZE, focalLength35Mm: 35 })])(startJob("Test", "t", "s").records);
  const [plate] = framesOf(frames);
  const built = setMerge(freshMerge("base", { baseId: plate.id }))(setRegistration(unmovedRegistration([plate], plate, 1), {})(frames));
  const beside = { ...framesOf(addFrames([newFrame({ sourceId: "b".repeat(64), ...OWN })])(built))[1], id: "other", setId: "elsewhere" };
  const laid = addLayer({ id: "l", name: "Heron", content: wholeFrame("other") })({ ...built, other: beside });
  return tellPlate({ stance: STANCE, heightM: 1.6, heightBy: "hand" })(laid);
}

/** Where a place of the layer's own picture lies. */
function lies(records: Records, x: number, y: number): [number, number] {
  const content = layerOf(records, "l")!.content;
  return project(movedMatrix((content as ReturnType<typeof wholeFrame>).moved!, SIZE, OWN), x, y);
}

const seated = (foot = { x: 500, y: 640 }) => addSeat("l", FEET, foot, "seat")(job());
const far = 1e-6;

it("a noted lens is one of the same angle on 24×36 mm", () => {
  // a 50 mm lens sees 46.8° along the diagonal of 24×36 mm: 2 atan(43.27 / 100), any handbook
  const { px } = notedFocal({ focalLength35Mm: 50, ...SIZE })!;
  expect((2 * Math.atan(Math.hypot(1200, 800) / 2 / px) * 180) / Math.PI).toBeCloseTo(46.8, 1);
  expect(notedFocal({ focalLength35Mm: null, ...SIZE })).toBeNull();
  expect(guessedPlate(job())).toMatchObject({ focalBy: "metadata", horizonBy: "guess", heightBy: "guess" });
});

it("its foot lies where it was put and its top as high as it is tall", () => {
  const r = changeSeat("seat", { heightM: 1.1 })(seated());
  const [x, y] = lies(r, FEET.footX, FEET.footY);
  expect(Math.hypot(x - 500, y - 640)).toBeLessThan(far);
  const camera = cameraOf(plateOf(r)!, SIZE);
  const place = camera.placeAt(500, 640)!;
  const top = camera.pixelOf([place[0], 1.1, place[2]])!;
  const [u, v] = lies(r, FEET.topX, FEET.topY);
  expect(Math.hypot(u - top[0], v - top[1])).toBeLessThan(far);
  expect(seatFigures(r, seatsOf(r)[0])).toMatchObject({ byHand: false, distanceM: Math.hypot(place[0], place[2]) });
});

it("nearer it is larger, in the ratio of the distances from the horizon", () => {
  const height = (foot: { x: number; y: number }) => {
    const r = seated(foot);
    return seatFigures(r, seatsOf(r)[0])!.heightPx;
  };
  // with the camera level, what stands on the ground reaches the same share of the way to the horizon everywhere
  const level = tellPlate({ stance: { pitchDeg: 0, rollDeg: 0, focalPx: 1000 } });
  const heightLevel = (y: number) => {
    const r = level(seated({ x: 500, y }));
    return seatFigures(r, seatsOf(r)[0])!.heightPx;
  };
  expect(height({ x: 500, y: 760 })).toBeGreaterThan(height({ x: 500, y: 500 }));
  expect(heightLevel(760) / heightLevel(500)).toBeCloseTo((760 - 399.5) / (500 - 399.5), 6);
});

it("follows when more is known of the plate, and a known length tells the camera's height", () => {
  const r = seated();
  const camera = cameraOf(plateOf(r)!, SIZE);
  const [a, b] = [camera.pixelOf([0, 0, 6])!, camera.pixelOf([1.2, 0, 6])!];
  // said to be 2.4 m long, all is twice as large and the thing half as high
  const known = tellPlate({ lines: [{ is: "length", x0: a[0], y0: a[1], x1: b[0], y1: b[1], metres: 2.4 }] })(r);
  expect(plateOf(known)).toMatchObject({ heightBy: "length" });
  expect(plateOf(known)!.heightM).toBeCloseTo(3.2, 9);
  const [before, after] = [r, known].map((s) => seatFigures(s, seatsOf(s)[0])!.heightPx);
  expect(after / before).toBeCloseTo(0.5, 1);
  expect(plateOf(tellPlate({ lines: [] })(known))).toMatchObject({ heightBy: "guess" });
});

it("above the horizon there is no ground: it stays where it was, and that can be told", () => {
  const r = seated();
  const [, [, y]] = horizonEnds(STANCE, SIZE);
  const up = changeSeat("seat", { foot: { x: 500, y: y - 60 } })(r);
  expect(layerOf(up, "l")).toBe(layerOf(r, "l"));
  expect(seatFigures(up, seatsOf(up)[0])).toBeNull();
  const free = changeSeat("seat", { on: "free", scale: 0.5 })(up);
  const [u, v] = lies(free, FEET.footX, FEET.footY);
  expect(Math.hypot(u - 500, v - y + 60)).toBeLessThan(far);
  expect(seatFigures(free, seatsOf(free)[0])!.heightPx).toBeCloseTo(0.5 * Math.hypot(10, 840), 6);
});

it("a layer that was moved by hand since is told, one that is left unseated stays", () => {
  const r = seated();
  const content = layerOf(r, "l")!.content as ReturnType<typeof wholeFrame>;
  const pulled = updateLayer("l", { content: { ...content, moved: { ...content.moved!, dx: 3 } } })(r);
  expect(seatFigures(pulled, seatsOf(pulled)[0])!.byHand).toBe(true);
  const left = removeSeat("seat")(r);
  expect(seatsOf(left)).toEqual([]);
  expect(layerOf(left, "l")).toBe(layerOf(r, "l"));
});

it("a locked layer stays where it is whatever is said of the plate, and one is seated once", () => {
  const locked = updateLayer("l", { locked: true })(seated());
  const raised = tellPlate({ heightM: 3 })(locked);
  expect(layerOf(raised, "l")).toBe(layerOf(locked, "l"));
  expect(seatFigures(raised, seatsOf(raised)[0])!.byHand).toBe(true);
  expect(addSeat("l", FEET, { x: 1, y: 700 })(locked)).toBe(locked);
});

it("two layers that name each other's shadow go all the same", () => {
  const lit = layShadow("seat", null, { shadow: "Shadow", contact: "Contact" })(tellPlate({ light: { azimuthDeg: 30, elevationDeg: 20 } })(seated()));
  const shadow = shadowOf(lit, seatsOf(lit)[0])!;
  const part = { ...shadow.mask.parts[0], id: "back", layerId: shadow.id };
  const knotted = updateLayer("l", { mask: { ...layerOf(lit, "l")!.mask, parts: [part as (typeof shadow.mask.parts)[0]] } })(lit);
  expect(layersOf(removeLayer("l")(knotted))).toEqual([]);
});

it("its shadow lies right under it, once, and goes with it", () => {
  const told = tellPlate({ light: { azimuthDeg: 30, elevationDeg: 20 } })(seated());
  const r = layShadow("seat", { ratioEv: 1.7, sourceDeg: 0.8, shadowMired: -30 }, { shadow: "Shadow", contact: "Contact" })(told);
  const [shadow, contact] = [shadowOf(r, seatsOf(r)[0])!, contactOf(r, seatsOf(r)[0])!];
  expect(childrenOf(r, null).map((l) => l.id)).toEqual([shadow.id, contact.id, "l"]);
  // where the shadow falls and the sky is hidden as well
  expect(contact.mask.parts.slice(0, 2)).toMatchObject([
    { kind: "cast", by: "sky", combine: "add" },
    { kind: "cast", by: "sun", combine: "intersect" },
  ]);
  expect(shadow).toMatchObject({ blendIn: "light", content: { type: "adjustment", adjustment: "shade", values: { ev: -1.7, mired: -30 } } });
  expect(shadow.mask.parts[0]).toMatchObject({ kind: "cast", layerId: "l", by: "sun", sourceDeg: 0.8 });
  expect(VALIDATORS.layer.isValidSync(shadow, { strict: true })).toBe(true);
  expect(layShadow("seat", null, { shadow: "Shadow", contact: "Contact" })(r)).toBe(r);
  const lit = { fromEv: -3, softEv: 0.5 };
  const partly = layShadow("seat", null, { shadow: "Shadow", contact: "Contact" }, lit)(tellPlate({ light: { azimuthDeg: 30, elevationDeg: 20 } })(seated()));
  expect(shadowOf(partly, seatsOf(partly)[0])!.mask.parts[1]).toMatchObject({ kind: "light", combine: "intersect", ...lit });
  for (const l of layersOf(partly)) expect(VALIDATORS.layer.isValidSync(l, { strict: true })).toBe(true);
  expect(layersOf(removeSeat("seat")(r)).map((l) => l.id)).toEqual(["l"]);
  expect(layerOf(removeLayer("l")(r), shadow.id)).toBeUndefined();
  // under an even sky it is the sky that is hidden
  const under = layShadow("seat", null, { shadow: "Shadow", contact: "Contact" })(tellPlate({ overcast: true })(seated()));
  expect(shadowOf(under, seatsOf(under)[0])!.mask.parts[0]).toMatchObject({ by: "sky" });
});

it("goes with its layer, with a turned plate, and with another reference", () => {
  const r = seated();
  expect(removeLayer("l")(r).seat).toBeUndefined();
  const [plate] = framesOf(r);
  const turned = turnFrames({ [plate.id]: { quarterTurns: 1, width: 800, height: 1200, measures: plate.measures } })(r);
  expect([turned.seat, plateOf(turned)]).toEqual([undefined, undefined]);
  const other = { ...plate, id: "p2", index: 9 };
  const again = setRegistration(unmovedRegistration([plate, other], other, 1), {})({ ...r, p2: other });
  expect([again.seat, plateOf(again)]).toEqual([undefined, undefined]);
  expect(plateOf(setRegistration(unmovedRegistration([plate], plate, 1), {})(r))).toBe(plateOf(r));
});

it("the person's word for the light goes before what shadows tell", () => {
  const r = tellPlate({ light: { azimuthDeg: 30, elevationDeg: 20 } })(job());
  expect(lightOf(plateOf(r)!, SIZE)).toEqual({ azimuthDeg: 30, elevationDeg: 20, sigmaDeg: 0 });
  expect(lightOf({ ...plateOf(r)!, overcast: true }, SIZE)).toBe("overcast");
  expect(lightOf({ ...plateOf(r)!, light: null }, SIZE)).toBe("tooFew");
});

it("what is written is checked: no camera under the ground, no light under it, no thing without height", () => {
  const r = seated();
  const [plate, seat] = [plateOf(r)!, seatsOf(r)[0]];
  const isSound = (kind: "plate" | "seat", record: unknown) => VALIDATORS[kind].isValidSync(record, { strict: true });
  expect([isSound("plate", plate), isSound("seat", seat)]).toEqual([true, true]);
  expect(isSound("plate", { ...plate, heightM: -1 })).toBe(false);
  expect(isSound("plate", { ...plate, light: { azimuthDeg: 0, elevationDeg: -4 } })).toBe(false);
  expect(isSound("plate", { ...plate, stance: { ...plate.stance, pitchDeg: Number.NaN } })).toBe(false);
  expect(isSound("plate", { ...plate, shadows: [{ foot: [1], top: [1, 2], tip: [3, 4] }] })).toBe(false);
  expect(isSound("seat", { ...seat, heightM: 0 })).toBe(false);
  expect(isSound("seat", { ...seat, on: "wall" })).toBe(false);
});

it("mirrored it stands on the same foot, as tall, left for right, and back again as it was", () => {
  const r = seated();
  const mirrored = mirrorSeat("seat")(r);
  const there = seatsOf(r)[0].foot;
  const [u, v] = lies(mirrored, FEET.footX, FEET.footY);
  expect(Math.hypot(u - there.x, v - there.y)).toBeLessThan(1e-6);
  const [right, left] = [r, mirrored].map((now) => lies(now, FEET.footX + 50, FEET.footY)[0] - there.x);
  expect(right).toBeGreaterThan(0);
  // but for what its own lean is turned
  expect(left).toBeCloseTo(-right, 1);
  expect(seatFigures(mirrored, seatsOf(mirrored)[0])!.byHand).toBe(false);
  expect(VALIDATORS.layer.isValidSync(layerOf(mirrored, "l"), { strict: true })).toBe(true);
  expect(layerOf(mirrorSeat("seat")(mirrored), "l")).toEqual(layerOf(r, "l"));
  const size = { width: 400, height: 300 };
  for (const map of [
    [-0.8, 0.3, 340, 0.3, 0.8, -25, 0, 0, 1],
    [0.8, -0.3, 40, 0.3, 0.8, -25, 0, 0, 1],
  ] as Matrix3[])
    movedMatrix(movedOf(map, SIZE, size), SIZE, size).forEach((value, i) => expect(value).toBeCloseTo(map[i], 9));
});

it("a sun that is seen tells where the light comes from, and one under the horizon nothing", () => {
  const plate = plateOf(tellPlate({})(job()))!;
  const camera = cameraOf(plate, SIZE);
  const [x, y] = camera.pixelOf([0.3 * 1000, camera.heightM + 0.2 * 1000, 1000])!;
  const light = lightAt(plate, SIZE, x, y)!;
  expect(light.azimuthDeg).toBeCloseTo((Math.atan(0.3) * 180) / Math.PI, 6);
  expect(light.elevationDeg).toBeCloseTo((Math.atan(0.2 / Math.hypot(1, 0.3)) * 180) / Math.PI, 6);
  expect(lightAt(plate, SIZE, x, SIZE.height - 1)).toBeNull();
});

it("copies stand at their own distances, smaller as they do, under what is nearer, each with its own shadow", () => {
  const lit = layShadow("seat", null, { shadow: "Shadow: Heron", contact: "Contact: Heron" })(
    tellPlate({ light: { azimuthDeg: 30, elevationDeg: 40 } })(seated()),
  );
  const r = copySeats("seat", 2, 3, -0.5)(lit);
  const seats = [...seatsOf(r)].sort((a, b) => seatFigures(r, a)!.distanceM! - seatFigures(r, b)!.distanceM!);
  expect(seats).toHaveLength(3);
  const figures = seats.map((s) => seatFigures(r, s)!);
  const camera = cameraOf(plateOf(r)!, SIZE);
  const first = camera.placeAt(500, 640)!;
  figures.forEach(({ distanceM, byHand }, k) => {
    expect(distanceM).toBeCloseTo(Math.hypot(first[0] - 0.5 * k, first[2] + 3 * k), 6);
    expect(byHand).toBe(false);
  });
  expect(figures[0].heightPx).toBeGreaterThan(figures[1].heightPx);
  // from far to near, the shadows of each right under it
  const order = layersOf(r).map((l) => l.name);
  expect(order).toEqual([
    "Shadow: Heron, 3",
    "Contact: Heron, 3",
    "Heron, 3",
    "Shadow: Heron, 2",
    "Contact: Heron, 2",
    "Heron, 2",
    "Shadow: Heron",
    "Contact: Heron",
    "Heron",
  ]);
  for (const s of seats)
    expect([shadowOf(r, s)?.name, contactOf(r, s)?.name]).toEqual([
      order[order.indexOf(layerOf(r, s.layerId)!.name) - 2],
      order[order.indexOf(layerOf(r, s.layerId)!.name) - 1],
    ]);
  for (const record of Object.values(r))
    if (record.kind === "layer" || record.kind === "seat") expect(VALIDATORS[record.kind].isValidSync(record, { strict: true })).toBe(true);
  // towards the camera they end where the ground does, and go over what is further
  const nearer = copySeats("seat", 9, -1.5, 0)(lit);
  expect(seatsOf(nearer).length).toBeLessThan(10);
  expect(layersOf(nearer).at(-1)!.name).toMatch(/^Heron, /);
  expect(copySeats("seat", 2, 1, 0)(changeSeat("seat", { on: "free" })(lit))).toEqual(changeSeat("seat", { on: "free" })(lit));
});

describe("on what is marked", () => {
  const surfaces = (r: Records, is: "raised" | "wall", heightM: number, places: [number, number][]) =>
    tellPlate({ surfaces: [{ id: "s", is, heightM, places }] })(r);
  const TABLE: [number, number][] = [
    [300, 560],
    [800, 560],
    [800, 700],
    [300, 700],
  ];

  it("it stands on what is raised: nearer to the camera's height, and so closer and smaller", () => {
    const low = seated();
    const high = surfaces(low, "raised", 0.8, TABLE);
    const camera = cameraOf(plateOf(high)!, SIZE);
    const place = camera.placeAt(500, 640, 0.8)!;
    const top = camera.pixelOf([place[0], 0.8 + seatsOf(high)[0].heightM, place[2]])!;
    const [u, v] = lies(high, FEET.topX, FEET.topY);
    expect(Math.hypot(u - top[0], v - top[1])).toBeLessThan(far);
    // half as far from the eyes is half as far away
    expect(seatFigures(high, seatsOf(high)[0])!.distanceM! / seatFigures(low, seatsOf(low)[0])!.distanceM!).toBeCloseTo(0.5, 6);
  });

  it("flat on a wall it lies in the wall's perspective: all four corners as a camera on paper has them", () => {
    const camera = cameraOf(plateOf(job())!, SIZE);
    const [a, b] = [camera.pixelOf([-3, 0, 9])!, camera.pixelOf([3, 0, 6])!];
    const r = changeSeat("seat", { on: "flat", heightM: 1.4, foot: { x: 500, y: 430 } })(surfaces(seated(), "wall", 4, [a, b]));
    expect((layerOf(r, "l")!.content as ReturnType<typeof wholeFrame>).moved!.mirrored).toBeUndefined();
    // the wall through both ends; where the foot's ray meets it
    const [dx, dy, dz] = camera.rayOf(500, 430);
    const t = (3 * -3 + 6 * 9) / (3 * dx + 6 * dz);
    const foot = [t * dx, 1.6 + t * dy, t * dz];
    const along = [6 / Math.hypot(6, 3), 0, -3 / Math.hypot(6, 3)];
    const perPx = 1.4 / Math.hypot(FEET.topX - FEET.footX, FEET.topY - FEET.footY);
    const turn = Math.atan2(FEET.topX - FEET.footX, FEET.footY - FEET.topY);
    for (const [x, y] of [
      [0, 0],
      [599, 0],
      [599, 899],
      [0, 899],
    ]) {
      const [px, py] = [x - FEET.footX, FEET.footY - y];
      const [right, up] = [px * Math.cos(turn) - py * Math.sin(turn), px * Math.sin(turn) + py * Math.cos(turn)].map((v) => v * perPx);
      const wanted = camera.pixelOf([foot[0] + right * along[0], foot[1] + up, foot[2] + right * along[2]])!;
      const found = lies(r, x, y);
      expect(Math.hypot(found[0] - wanted[0], found[1] - wanted[1])).toBeLessThan(0.01);
    }
  });

  it("small and far to the side it is no mirror image of itself", () => {
    const camera = cameraOf(plateOf(job())!, SIZE);
    const [a, b] = [camera.pixelOf([-9, 0, 24])!, camera.pixelOf([9, 0, 24])!];
    for (const x of [150, 600, 1050]) {
      const r = changeSeat("seat", { on: "flat", heightM: 0.4, foot: { x, y: 360 } })(surfaces(seated(), "wall", 4, [a, b]));
      expect((layerOf(r, "l")!.content as ReturnType<typeof wholeFrame>).moved!.mirrored).toBeUndefined();
      expect(lies(r, 599, 880)[0]).toBeGreaterThan(lies(r, 0, 880)[0]);
    }
  });

  it("in the sky it is as wide as its angle, and its middle lies where it was put", () => {
    const r = changeSeat("seat", { on: "sky", foot: { x: 599.5, y: 399.5 }, wideDeg: 2 })(seated());
    const [foot, top] = [lies(r, FEET.footX, FEET.footY), lies(r, FEET.topX, FEET.topY)];
    // 2 tan 1° · 1000 px
    expect(Math.hypot(top[0] - foot[0], top[1] - foot[1])).toBeCloseTo(34.91, 2);
    expect((foot[0] + top[0]) / 2).toBeCloseTo(599.5, 6);
    expect((foot[1] + top[1]) / 2).toBeCloseTo(399.5, 6);
    const larger = changeSeat("seat", { times: 3 })(r);
    expect(seatFigures(larger, seatsOf(larger)[0])!.heightPx / seatFigures(r, seatsOf(r)[0])!.heightPx).toBeCloseTo(3, 9);
  });

  it("a ball in the sky is lit from where the sun is, half of it a right angle away", () => {
    const level = { pitchDeg: 0, rollDeg: 0, focalPx: 1000 };
    const plate = plateOf(tellPlate({ stance: level, light: { azimuthDeg: 90, elevationDeg: 0.001 } })(job()))!;
    const ahead = sunFromSky(plate, SIZE, { foot: { x: 599.5, y: 399.5 } })!;
    expect(ahead.towardsDeg).toBeCloseTo(90, 1);
    expect(ahead.litShare).toBeCloseTo(0.5, 4);
    // with the sun behind the camera it is full, but for what it stands off
    const full = sunFromSky({ ...plate, light: { azimuthDeg: 180, elevationDeg: 1 } }, SIZE, { foot: { x: 610, y: 390 } })!;
    expect(full.litShare).toBeGreaterThan(0.99);
  });

  it("the light by date is less sure than one that was said, and night keeps what was said before", () => {
    const at = { clock: "2026-06-21T12:00", overUtcH: 0, latitudeDeg: 50, longitudeDeg: 0, headingDeg: 180 };
    const noon = lightByDate(at)(job());
    const light = lightOf(plateOf(noon)!, SIZE);
    // at noon of the longest day the sun stands 90 − 50 + 23.44° high, to the south
    expect(light).toMatchObject({ sigmaDeg: 5 });
    expect((light as { elevationDeg: number }).elevationDeg).toBeCloseTo(63.4, 0);
    expect(Math.abs((light as { azimuthDeg: number }).azimuthDeg)).toBeLessThan(2);
    const night = lightByDate({ ...at, clock: "2026-06-21T00:00" })(noon);
    expect(plateOf(night)!.light).toEqual(plateOf(noon)!.light);
    expect(plateOf(night)!.whereabouts!.clock).toBe("2026-06-21T00:00");
    for (const r of Object.values(night).filter((x) => x.kind === "plate")) expect(() => VALIDATORS.plate.validateSync(r, { strict: true })).not.toThrow();
  });
});

it("a thing that was taken from higher up is seen more steeply, by as much as geometry has it", () => {
  const r = changeSeat("seat", { heightM: 1.2 })(seated({ x: 600, y: 700 }));
  const seat = seatsOf(r)[0];
  // the camera that took it: level, 2.5 m up, the thing 4 m away; its foot and its top as that shows them
  const taken = new GroundCamera(OWN, { pitchDeg: 0, rollDeg: 0, focalPx: 700 }, 2.5);
  const [foot, top] = [taken.pixelOf([0.1, 0, 4])!, taken.pixelOf([0.1, 1.2, 4])!];
  const own = { footX: foot[0], footY: foot[1], topX: top[0], topY: top[1] };
  const known = changeSeat("seat", { own, seenFrom: taken.stance })(r);
  const beside = seenFromBeside(known, seatsOf(known)[0])!;
  const place = cameraOf(plateOf(r)!, SIZE).placeAt(600, 700)!;
  const deg = (over: number, away: number) => (Math.atan(over / away) * 180) / Math.PI;
  expect(beside.higherM).toBeCloseTo(2.5 - 1.6, 6);
  expect(beside.steeperDeg).toBeCloseTo(deg(2.5, Math.hypot(0.1, 4)) - deg(1.6, Math.hypot(place[0], place[2])), 6);
  expect(seenFromBeside(r, seat)).toBeNull();
  expect(() => VALIDATORS.seat.validateSync(seatsOf(known)[0], { strict: true })).not.toThrow();
});
