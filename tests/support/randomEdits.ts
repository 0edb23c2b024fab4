/** Edits of every kind of layer, mask part, retouch and finish, made from numbers, so that a sequence that fails can be made shorter. */
import { written } from "../../src/messages/message";
import fc from "fast-check";
import { ADJUSTMENT_RECORDS, valuesOfKind, type Adjustment } from "../../src/kinds/adjustments/records";
import { BLEND_MODES } from "../../src/core/blend/blendModes";
import { bentView } from "../../src/core/panorama/fillRectangle";
import { layOut } from "../../src/core/panorama/layout";
import { addRecord, developFrames, setGeometry, type Edit } from "../../src/document/edits";
import { removeLayer } from "../../src/document/removal";
import { setFinish } from "../../src/document/finishEdits";
import { hideSeat } from "../../src/document/hideSeat";
import { layReflection } from "../../src/document/reflectionEdits";
import { focusAt, layBleed } from "../../src/document/airEdits";
import { addLamp, changeLamp, lampsOf, layBeam, layGlow, layLampLight, layLampShadow, layRelight, removeLamp } from "../../src/document/lampEdits";
import { addSeat, changeSeat, mirrorSeat, tellPlate } from "../../src/document/seatEdits";
import { layShadow } from "../../src/document/shadowEdits";
import { sinkSeat } from "../../src/document/sinkSeat";
import { SEAT_ON } from "../../src/document/records/plateTypes";
import type { Surface } from "../../src/core/seat/scenery";
import { addLayer, blurLayer, duplicateLayer, groupLayer, moveLayer, updateLayer, updateMask, updatePart } from "../../src/document/layerEdits";
import { setGhosts, setMerge, freshMerge } from "../../src/document/mergeEdits";
import { setPanoramaView } from "../../src/document/panoramaEdits";
import { freshMask } from "../../src/document/records/layerTypes";
import { RETOUCH_METHODS } from "../../src/kinds/contents/retouch/record";
import { MARKS, UNMOVED, type Cut, type FrameLight, wholeFrame } from "../../src/kinds/contents/frame/record";
import type { LayerContent } from "../../src/kinds/contents/records";
import { FOUND } from "../../src/kinds/maskParts/found/record";
import type { MaskPart, PartShape } from "../../src/kinds/maskParts/records";
import type { Records, StrokeRecord } from "../../src/document/records/types";
import {
  activeFramesOf,
  documentSize,
  framesOf,
  layersOf,
  mergeOf,
  panoramaCamerasOf,
  panoramaOf,
  plateOf,
  seatsOf,
  strokesOf,
} from "../../src/document/selectors";
import { newStroke } from "./records";

/** Numbers an edit is made from: what is done, to what, and its values, 0..1. */
export type Drawn = { what: number; which: number; kind: number; a: number; b: number; c: number; d: number };
/** Shares in steps, so that all of them are as likely. */
const unit = fc.nat(9999).map((n) => n / 10_000);
export const UNIT = unit;
export const DRAWN: fc.Arbitrary<Drawn> = fc.record({ what: unit, which: unit, kind: unit, a: unit, b: unit, c: unit, d: unit });

const pick = <T>(list: readonly T[], at: number): T | undefined => list[Math.floor(at * list.length)];

/** The edit that numbers stand for, in a state. @param serial makes its new records' names */
export function editOf(records: Records, draw: Drawn, serial: number): Edit {
  const found = pick(EDITS, draw.what)!;
  return found(records, draw, serial) ?? ((r) => r);
}

type Make = (records: Records, draw: Drawn, serial: number) => Edit | null;

const place = (r: Records, x: number, y: number): [number, number] => {
  const { width, height } = documentSize(r)!;
  return [Math.round(x * width), Math.round(y * height)];
};

const lightOf = (r: Records, a: number, d: number): FrameLight | null =>
  d > 0.7 ? { black: [0.01, 0.02 * a, 0.01], warmthMired: 40 * a, ambientId: a > 0.5 ? framesOf(r)[0].id : null } : null;

function cutOf(r: Records, b: number, c: number, d: number): Cut {
  const [x, y] = place(r, 0.3 * b, 0.3 * c);
  const [width, height] = place(r, 0.5, 0.6);
  const marks: Cut["marks"] = [{ what: pick(MARKS, d)!, diameterPx: 4 + 10 * d, points: place(r, 0.3 + 0.2 * c, 0.3 + 0.3 * b) }];
  return { by: "box", box: { x, y, width, height }, plateId: null, plateMatrix: null, marks: b > 0.5 ? marks : [] };
}

function contentOf(r: Records, { kind, a, b, c, d }: Drawn): LayerContent {
  const contents: (() => LayerContent)[] = [
    () => wholeFrame(pick(framesOf(r), a)!.id, { exposureEv: b - 0.5 }),
    () => wholeFrame(framesOf(r).at(-1)!.id, { moved: { ...UNMOVED, dx: 10 * a, angleDeg: 8 * b, scale: 0.8 + 0.4 * c } }),
    () => wholeFrame(framesOf(r).at(-1)!.id, { moved: a > 0.5 ? { ...UNMOVED, scale: 0.7 + b } : null, cut: cutOf(r, b, c, d), light: lightOf(r, a, d) }),
    () => ({ type: "merge" }),
    () => ({ type: "below" }),
    () => adjustment(pick(Object.keys(ADJUSTMENT_RECORDS) as Adjustment[], a)!, b, c),
    () => adjustment(pick(["sharpen", "detail", "glow", "noise"] as Adjustment[], a)!, b, c),
    () => ({
      type: "fill",
      red: a,
      green: b,
      blue: c,
      grain: d > 0.5 ? 0.1 : 0,
      grainPx: 1.5,
      ramp: d > 0.7 ? { red: b, green: c, blue: a, x0: 10, y0: 10, x1: 120, y1: 90 } : null,
    }),
    () => ({
      type: "retouch",
      method: pick(RETOUCH_METHODS, a)!,
      dx: Math.round(40 * b - 20),
      dy: Math.round(40 * c - 20),
      angleDeg: d > 0.8 ? 20 : 0,
      scale: 1,
      mirrored: d < 0.1,
    }),
    () => ({ type: "group", through: a > 0.5 }),
  ];
  return pick(contents, kind)!();
}

function adjustment(name: Adjustment, b: number, c: number): LayerContent {
  const entries = Object.entries(valuesOfKind(name)).map(([key, v], i) => {
    // blurs of a picture this small are small
    const most = v.unit === "px" ? Math.min(v.max, 6) : v.max;
    const t = i % 2 ? b : c;
    const value = v.min + (most - v.min) * t;
    return [key, v.step >= 1 ? Math.round(value) : value];
  });
  return { type: "adjustment", adjustment: name, values: Object.fromEntries(entries) as Record<string, number> };
}

function shapeOf(r: Records, { kind, a, b, c, d }: Drawn): PartShape {
  const [x0, y0] = place(r, a, b);
  const [x1, y1] = place(r, c, d);
  const frames = activeFramesOf(r).map((f) => f.id);
  const of = d > 0.5 ? pick(frames, c)! : null;
  const shapes: PartShape[] = [
    { kind: "painted" },
    { kind: "ramp", x0, y0, x1, y1 },
    { kind: "ellipse", cx: x0, cy: y0, rx: 5 + 50 * c, ry: 5 + 50 * d, angleDeg: 90 * a },
    { kind: "polygon", points: [x0, y0, x1, y0, x1, y1] },
    { kind: "light", of, fromEv: -6 * a, toEv: -3 * b, softEv: 0.2 + c },
    { kind: "hue", of, hueDeg: 360 * a, widthDeg: 40 + 60 * b, leastChroma: 0.02 },
    { kind: "channel", of, channel: pick([0, 1, 2] as const, a)!, low: b / 2, high: 0.5 + c / 2 },
    { kind: "sharpness", of, sizePx: 1 + 2 * a, fromEv: 0.1 * b, softEv: 0.1 },
    { kind: "depth", from: 1 + a, to: 2 + b, soft: 0.5 },
    { kind: "difference", aId: frames[0], bId: pick(frames, a)!, fromEv: b, softEv: 0.3 },
    { kind: "link", layerId: pick(layersOf(r), a)?.id ?? "none" },
    { kind: "soften", sigmaPx: 0.5 + 4 * a },
    { kind: "cells", cellPx: 16, runs: [2, 1, 1 + Math.floor(5 * a), 3, 2, 3 + Math.floor(5 * b)] },
    { kind: "found", what: pick(FOUND, a)!, x0, y0, x1, y1, tolerance: 3 + 8 * c },
  ];
  return pick(shapes, kind)!;
}

const layer = (r: Records, which: number) => pick(layersOf(r), which);
const paintedOn = (r: Records, which: number) => {
  const all = layersOf(r).flatMap((l) => l.mask.parts.filter((p) => p.kind === "painted" || p.kind === "soften").map((p) => ({ layer: l, part: p })));
  return pick(all, which);
};

function strokePoints(r: Records, { a, b, c, d }: Drawn): number[] {
  const [x0, y0] = place(r, a, b);
  return [x0, y0, 1, x0 + 40 * (c - 0.5), y0 + 40 * (d - 0.5), 0.5 + c / 2];
}

const addAnyLayer: Make = (r, draw, serial) => {
  const { a, b, d } = draw;
  const mask =
    d < 0.35
      ? freshMask(1)
      : freshMask(d > 0.9 ? 1 : 0, [
          {
            id: `part-${serial}`,
            combine: "add",
            inverted: false,
            featherPx: a > 0.8 ? 3 * b : 0,
            ...shapeOf(r, { ...draw, kind: d < 0.7 ? 0 : b }),
          } as MaskPart,
        ]);
  return layersOf(r).length > 5 ? null : addLayer({ id: `layer-${serial}`, name: "L", content: contentOf(r, draw), opacity: 0.4 + 0.6 * b, mask });
};

const addStroke: Make = (r, draw, serial) => {
  const on = paintedOn(r, draw.which);
  if (!on) return null;
  const index = strokesOf(r, on.layer.id).length;
  const own = { id: `stroke-${serial}`, index, layerId: on.layer.id, partId: on.part.id, points: strokePoints(r, draw) };
  return addRecord(
    newStroke({
      ...own,
      reveal: draw.kind < 0.7,
      diameterPx: 6 + 40 * draw.a,
      softness: draw.b,
      opacity: 0.5 + draw.c / 2,
      edgeTolerance: draw.d > 0.8 ? 8 : 0,
    }),
  );
};

const growStroke: Make = (r, draw) => {
  const last = Object.values(r)
    .filter((x): x is StrokeRecord => x.kind === "stroke")
    .at(-1);
  if (!last) return null;
  return (records) => ({ ...records, [last.id]: { ...last, points: [...last.points, ...strokePoints(r, draw)] } });
};

/** A wall, a table and a pond on the ground of a plate. */
function surfacesOf(r: Records, { a, b, c }: Drawn): Surface[] {
  const [wall, raised, water] = [
    { id: "wall", is: "wall" as const, heightM: 0.2 + b, places: [place(r, 0.2 * a, 0.8), place(r, 0.6, 0.7 + 0.2 * c)] },
    { id: "raised", is: "raised" as const, heightM: 0.3 * c, places: [place(r, 0.1, 0.75), place(r, 0.6, 0.75), place(r, 0.7, 0.9), place(r, 0.1, 0.9)] },
    { id: "water", is: "water" as const, heightM: -0.2 * a, places: [place(r, 0.1, 0.7), place(r, 0.9, 0.7), place(r, 0.95, 0.99), place(r, 0.05, 0.99)] },
  ];
  return pick([[wall], [raised, water], [water], [wall, raised, water]], b)!;
}

/** Seats something that is cut out, or throws what it throws. */
const seatAnyLayer: Make = (r, draw, serial) => {
  const { which, kind, a, b, c, d } = draw;
  const cut = pick(
    layersOf(r).filter((l) => l.content.type === "frame" && l.content.cut),
    which,
  );
  if (!cut || panoramaOf(r)) return null;
  const seat = seatsOf(r).find((s) => s.layerId === cut.id);
  if (!seat) {
    const { width } = documentSize(r)!;
    const [footX, footY] = place(r, 0.25, 0.55);
    const [topX, topY] = place(r, 0.25, 0.1);
    const [x, y] = place(r, 0.3 + 0.4 * a, 0.75 + 0.2 * b);
    const tell = tellPlate({
      stance: { pitchDeg: -12, rollDeg: 4 * c - 2, focalPx: width },
      ...{ heightM: 1.5, heightBy: "hand" as const, light: { azimuthDeg: 360 * d - 180, elevationDeg: 15 + 60 * c }, surfaces: surfacesOf(r, draw) },
    });
    return (records) =>
      changeSeat(`seat-${serial}`, { heightM: 0.4 + c })(addSeat(cut.id, { footX, footY, topX, topY }, { x, y }, `seat-${serial}`)(tell(records)));
  }
  const thrown: Edit[] = [
    layShadow(seat.id, { ratioEv: 1 + 2 * a, sourceDeg: 0.5 + 6 * b, shadowMired: -30 * c }, { shadow: "S", contact: "C" }),
    layReflection(seat.id, { surfaceId: "water", slope: 0.05 * a, sky: [b, b, c] }, "R"),
    sinkSeat(seat.id, 30 * a),
    hideSeat(seat.id, a > 0.3),
  ];
  return pick(thrown, kind)!;
};

/** Moves what is seated, or what it stands on. */
const moveSeat: Make = (r, draw) => {
  const seat = pick(seatsOf(r), draw.which);
  if (!seat) return null;
  const { kind, a, b, c } = draw;
  const [x, y] = place(r, 0.2 + 0.6 * a, 0.7 + 0.28 * b);
  const edits: Edit[] = [
    changeSeat(seat.id, { foot: { x, y } }),
    changeSeat(seat.id, { on: pick(SEAT_ON, a)!, heightM: 0.3 + c }),
    tellPlate({ surfaces: surfacesOf(r, draw) }),
    tellPlate({ light: { azimuthDeg: 300 * a - 150, elevationDeg: 10 + 70 * b } }),
    mirrorSeat(seat.id),
  ];
  return pick(edits, kind)!;
};

/** Says of a lamp, lays what it does, or air over all. */
const shineOrMist: Make = (r, draw, serial) => {
  const { which, kind, a, b, c } = draw;
  const seat = pick(seatsOf(r), which);
  if (!seat) return null;
  const [x, y] = place(r, a, 0.5 * b);
  const lamp = pick([...lampsOf(plateOf(r))], which);
  if (!lamp) return addLamp({ id: `lamp-${serial}`, is: "lamp", x, y, distanceM: 2 + 6 * c, wide: 0.3, ev: 3, color: [1.2, 1, 0.6], isAdded: c < 0.7 });
  const mist = {
    type: "mist" as const,
    visibleM: 20 + 200 * a,
    halfHeightM: b < 0.5 ? null : 1,
    patchy: c,
    cloudM: 2,
    seed: 1,
    color: [0.5, 0.5, 0.6],
    farM: 100,
    ...(a < 0.5 ? { hides: [0.8, 1, 1.3] } : {}),
  };
  const edits: Edit[] = [
    changeLamp(lamp.id, { x, y, ev: 1 + 4 * c }),
    layLampLight(lamp.id, null, "Pool"),
    layLampLight(lamp.id, seat.layerId, "Light"),
    layLampShadow(lamp.id, seat.layerId, "Shadow"),
    layGlow(lamp.id, { rimEv: -2, fallEv: -1 - c, bendEv: 0 }, "Glow"),
    layBeam(lamp.id, "Beam"),
    layRelight(seat.layerId, { azimuthDeg: 360 * a - 180, elevationDeg: 60 * b, ratioEv: c, toRatioEv: 2 }, "Turned"),
    blurLayer(seat.layerId, { radiusPx: 5 * a, motionPx: 6 * b, motionDeg: 180 * c - 90 }),
    addLayer({ id: `mist-${serial}`, name: "Mist", blendIn: "light", content: mist }),
    layBleed(seat.layerId, 1 + 8 * a, "Rim"),
    focusAt(1 + 8 * a, "Field"),
    removeLamp(lamp.id),
  ];
  return pick(edits, kind)!;
};

/** Each sort of edit; the ones that caches are likeliest to be wrong about stand more than once. */
const EDITS: Make[] = [
  addAnyLayer,
  addAnyLayer,
  addAnyLayer,
  addStroke,
  addStroke,
  addStroke,
  growStroke,
  growStroke,
  seatAnyLayer,
  seatAnyLayer,
  shineOrMist,
  moveSeat,
  (r, draw, serial) => {
    const l = layer(r, draw.which);
    const part = {
      combine: pick(["add", "subtract", "intersect"] as const, draw.a)!,
      inverted: draw.b > 0.8,
      featherPx: draw.c > 0.7 ? 4 * draw.d : 0,
      ...shapeOf(r, draw),
    };
    return l && l.mask.parts.length < 4 ? (records) => addPartNamed(records, l.id, { id: `more-${serial}`, ...part } as MaskPart) : null;
  },
  (r, { which, a, b, c, d }) => {
    const l = layer(r, which);
    return l
      ? updateMask(l.id, { refinePx: a > 0.6 ? 6 * b : 0, featherPx: c > 0.6 ? 5 * d : 0, inverted: b > 0.7, low: a > 0.8 ? 0.2 : 0, density: 0.5 + c / 2 })
      : null;
  },
  (r, { which, kind, a }) => {
    const l = layer(r, which);
    const changes = [{ opacity: a }, { mode: pick(BLEND_MODES, a)! }, { visible: a < 0.5 }, { clipped: a < 0.5 }, { seamPx: a > 0.5 ? 6 * a : 0 }];
    return l ? updateLayer(l.id, pick(changes, kind)!) : null;
  },
  (r, draw) => {
    const l = layer(r, draw.which);
    const content = l && contentOf(r, draw);
    return l && content && content.type === l.content.type ? updateLayer(l.id, { content }) : null;
  },
  (r, { which, a, b }) => {
    const on = paintedOn(r, which) ?? null;
    return on ? updatePart(on.layer.id, on.part.id, { inverted: a > 0.5, featherPx: 3 * b }) : null;
  },
  (r, { which, a }) => (layer(r, which) ? moveLayer(layer(r, which)!.id, a > 0.5 ? 1 : -1) : null),
  (r, { which }) => (layer(r, which) ? removeLayer(layer(r, which)!.id) : null),
  (r, { which }) => (layer(r, which) && layersOf(r).length < 6 ? groupLayer(layer(r, which)!.id, "G") : null),
  (r, { which }) => (layer(r, which) && layersOf(r).length < 5 ? duplicateLayer(layer(r, which)!.id) : null),
  // a frame of another set, which no merge holds
  (r, { a, b }) => developFrames([framesOf(r).at(-1)!.id], { exposureEv: 2 * a - 1, mired: 60 * b }),
  (r, { a, b }) => developFrames([pick(activeFramesOf(r), a)!.id], { exposureEv: b - 0.5 }),
  (_r, { kind, a }) =>
    setFinish(
      pick(["exposure", "contrast", "chroma"] as const, kind)!,
      pick<Record<string, number>>([{ ev: a }, { factor: 0.8 + 0.4 * a }, { factor: 2 * a }], kind)!,
    ),
  (r, { a, b }) => (mergeOf(r)?.method === "radiance" ? setFinish("localTone", { strength: a > 0.5 ? 0.6 : 0, scale: 0.05 + 0.1 * b }) : null),
  (r, { a, b }) => {
    const size = documentSize(r)!;
    const tilt = b > 0.6 ? { pitchDeg: 20 * (a - 0.5), yawDeg: b < 0.8 ? 0 : 6, focalPx: size.width } : undefined;
    return setGeometry({ angleDeg: a > 0.5 ? 2 * a : 0, tilt, crop: { x: 8, y: 6, width: size.width - 30, height: size.height - 24 }, ratio: null });
  },
  (r, { a, b }) => {
    if (panoramaOf(r)) return null;
    const runs = [6 + Math.floor(4 * a), 4, 7, 7 + Math.floor(4 * a), 4, 7];
    return setGhosts([{ cellPx: 8, runs, strength: 9, proposedId: pick(activeFramesOf(r), b)!.id, reason: written("") }], a > 0.3);
  },
  (r, { a }) => {
    // developing a frame of the merge may have dropped it
    if (panoramaOf(r)) return null;
    const method = pick(["radiance", "fusion", "clippedMean", "base"] as const, a)!;
    return setMerge(freshMerge(method));
  },
  (r, { a, b, c }) => {
    if (!panoramaOf(r)) return null;
    const projection = pick(["cylindrical", "rectilinear", "equirectangular"] as const, a)!;
    const cameras = panoramaCamerasOf(r);
    const flat = layOut(cameras, { yawDeg: 20 * b - 10, pitchDeg: 0, rollDeg: 4 * c }, projection);
    const view = flat && bentView(flat, cameras, c > 0.7 ? 1 : 0);
    return view && setPanoramaView(view, { x: 0, y: 0, width: view.width, height: view.height });
  },
];

/** A part more; its name is told, so that a sequence means the same each time it is tried. */
function addPartNamed(records: Records, layerId: string, part: MaskPart): Records {
  const { mask } = layersOf(records).find((l) => l.id === layerId)!;
  return updateLayer(layerId, { mask: { ...mask, parts: [...mask.parts, part] } })(records);
}
