import { isAdjustment, valuesOfKind } from "../../kinds/adjustments/records";
import { BLEND_MODES } from "../../core/blend/blendModes";
import { array, boolean, lazy, mixed, number, object, string, type Schema } from "yup";
import { place } from "../../kinds/maskParts/fields";
import { PART_RECORDS, type PartKind } from "../../kinds/maskParts/records";
import { finite, id, numbers, share } from "./fields";
import { RETOUCH_METHODS } from "./layerTypes";

const encoded = () => finite().min(0).max(1);

/** A thing of one of several kinds, each with fields of its own. */
const oneOf = <K extends string>(of: string, kinds: Record<K, unknown>, schemaOf: (kind: K) => Schema) =>
  lazy((value: unknown): Schema => {
    const kind = (value as Record<string, unknown> | undefined)?.[of];
    return typeof kind === "string" && Object.hasOwn(kinds, kind) ? schemaOf(kind as K) : mixed().test("kind", `\${path} is of no known ${of}`, () => false);
  });

const MOST_PARTS = 64;
const MOST_DEPTH = 4;

const part = (fields: Record<string, Schema>) =>
  object({
    id: id(),
    kind: string().required(),
    combine: string().oneOf(["add", "subtract", "intersect"]).required(),
    inverted: boolean().required(),
    featherPx: finite().min(0).max(2000),
    ...fields,
  });

/** Parts of a mask; groups of them lie in one another so deep at most. */
const partsOf = (depth: number): Schema =>
  lazy((value: unknown): Schema => {
    if (value === undefined) return array().required();
    const parts = depth < MOST_DEPTH ? partsOf(depth + 1) : mixed().test("depth", "${path} lies too deep", () => false);
    const fieldsOf = (kind: PartKind) => ({ ...PART_RECORDS[kind].fields, ...(kind === "group" && { parts }) });
    return array(oneOf("kind", PART_RECORDS, (kind) => part(fieldsOf(kind)))).max(MOST_PARTS);
  }) as unknown as Schema;

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
  content: oneOf("type", CONTENTS, (type) => CONTENTS[type]),
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
