import { isAdjustment, valuesOfKind } from "../../kinds/adjustments/records";
import { BLEND_MODES } from "../../core/blend/blendModes";
import { array, boolean, lazy, mixed, number, object, string, type ObjectSchema, type Schema } from "yup";
import { cellPx, cellRuns, finite, id, numbers, share } from "./fields";
import { FOUND, RETOUCH_METHODS } from "./layerTypes";

const encoded = () => finite().min(0).max(1);

/** A thing of one of several kinds, each with fields of its own. */
const oneOf = (of: string, kinds: Record<string, ObjectSchema<object>>) =>
  lazy((value: unknown): Schema => {
    const kind = (value as Record<string, unknown> | undefined)?.[of];
    return typeof kind === "string" && Object.hasOwn(kinds, kind) ? kinds[kind] : mixed().test("kind", `\${path} is of no known ${of}`, () => false);
  });

const MOST_PARTS = 64;
const MOST_POINTS = 20_000;
const place = () => finite().min(-1e6).max(1e6);
const measured = { of: string().nullable().defined().max(100) };

const MOST_DEPTH = 4;

/** Parts of a mask; groups of them lie in one another so deep at most. */
const partsOf = (depth: number): Schema =>
  lazy((value: unknown): Schema => {
    const group = part({ parts: depth < MOST_DEPTH ? (partsOf(depth + 1) as Schema) : mixed().test("depth", "${path} lies too deep", () => false) });
    return value === undefined ? array().required() : array(oneOf("kind", { ...PARTS, group })).max(MOST_PARTS);
  }) as unknown as Schema;

const part = (fields: Record<string, Schema>) =>
  object({
    id: id(),
    kind: string().required(),
    combine: string().oneOf(["add", "subtract", "intersect"]).required(),
    inverted: boolean().required(),
    featherPx: finite().min(0).max(2000),
    ...fields,
  });

const PARTS = {
  painted: part({}),
  ramp: part({ x0: place(), y0: place(), x1: place(), y1: place() }),
  ellipse: part({ cx: place(), cy: place(), rx: finite().min(0.5).max(1e6), ry: finite().min(0.5).max(1e6), angleDeg: finite().min(-360).max(360) }),
  polygon: part({
    points: array(place())
      .required()
      .min(6)
      .max(MOST_POINTS)
      .test("pairs", "${path} is not made of pairs", (v) => Array.isArray(v) && v.length % 2 === 0),
  }),
  light: part({ ...measured, fromEv: finite().min(-40).max(40), toEv: finite().min(-40).max(40), softEv: finite().min(0).max(20) }),
  hue: part({ ...measured, hueDeg: finite().min(0).max(360), widthDeg: finite().min(1).max(360), leastChroma: finite().min(0).max(0.5) }),
  channel: part({ ...measured, channel: number().oneOf([0, 1, 2]).required(), low: encoded(), high: encoded() }),
  sharpness: part({ ...measured, sizePx: finite().min(0.3).max(200), fromEv: finite().min(0).max(20), softEv: finite().min(0).max(20) }),
  depth: part({ from: finite().min(0).max(1000), to: finite().min(0).max(1000), soft: finite().min(0).max(100) }),
  difference: part({ aId: id(), bId: id(), fromEv: finite().min(0).max(20), softEv: finite().min(0).max(20) }),
  link: part({ layerId: id() }),
  cells: part({ cellPx: cellPx(), runs: cellRuns() }),
  found: part({
    what: string()
      .oneOf([...FOUND])
      .required(),
    x0: place(),
    y0: place(),
    x1: place(),
    y1: place(),
    tolerance: finite().min(0).max(100),
  }),
  soften: part({ sigmaPx: finite().min(0.3).max(400) }),
};

const CONTENTS = {
  frame: object({
    type: string().required(),
    frameId: id(),
    exposureEv: finite().min(-12).max(12),
    moved: object({
      dx: place(),
      dy: place(),
      angleDeg: finite().min(-180).max(180),
      scale: finite().min(0.02).max(10),
      corners: array(place()).required().length(8),
    })
      .nullable()
      .defined(),
  }),
  merge: object({ type: string().required() }),
  below: object({ type: string().required() }),
  adjustment: object({
    type: string().required(),
    adjustment: string().required().test("adjustment", "${path} is no known adjustment", isAdjustment),
    values: numbers(),
  }).test("values", "${path} has a value that its adjustment does not know or allow", (content) => {
    const known = isAdjustment(content?.adjustment) ? valuesOfKind(content.adjustment) : {};
    return Object.entries((content?.values ?? {}) as Record<string, number>).every(([name, v]) => known[name] && v >= known[name].min && v <= known[name].max);
  }),
  fill: object({
    type: string().required(),
    red: encoded(),
    green: encoded(),
    blue: encoded(),
    ramp: object({ red: encoded(), green: encoded(), blue: encoded(), x0: place(), y0: place(), x1: place(), y1: place() }).nullable().defined(),
    grain: encoded(),
    grainPx: finite().min(0.5).max(200),
  }),
  retouch: object({
    type: string().required(),
    method: string()
      .oneOf([...RETOUCH_METHODS])
      .required(),
    dx: place(),
    dy: place(),
    angleDeg: finite().min(-180).max(180),
    scale: finite().min(0.1).max(10),
    mirrored: boolean().required(),
  }),
  group: object({ type: string().required() }),
};

export const LAYER = object({
  id: id(),
  index: finite(),
  setId: id(),
  parentId: string().nullable().defined().max(100),
  name: string().required().max(200),
  note: string().defined().max(2000),
  content: oneOf("type", CONTENTS),
  opacity: share(),
  mode: string()
    .oneOf([...BLEND_MODES])
    .required(),
  visible: boolean().required(),
  locked: boolean().required(),
  clipped: boolean().required(),
  seamPx: finite().min(0).max(400),
  mask: object({
    ground: number().oneOf([0, 1]).required(),
    inverted: boolean().required(),
    parts: partsOf(0),
    refinePx: finite().min(0).max(400),
    featherPx: finite().min(0).max(2000),
    low: encoded(),
    high: encoded(),
    density: share(),
  }).required(),
});
