import type { ContentRecord } from "../../kinds/contents/fields";
import { CONTENT_RECORDS, type ContentKind, type LayerContent } from "../../kinds/contents/records";
import { BLEND_INS, BLEND_MODES } from "../../core/blend/blendModes";
import { array, boolean, lazy, mixed, number, object, string, type Schema } from "yup";
import { PART_RECORDS, type PartKind } from "../../kinds/maskParts/records";
import { finite, id, share } from "./fields";

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

/** What a layer shows or does, by kind. */
const contentOf = (type: ContentKind) => {
  const { fields, isSound } = CONTENT_RECORDS[type] as ContentRecord<LayerContent>;
  return object({ type: string().required(), ...fields }).test(
    "sound",
    "${path} has values that do not go together",
    (content) => isSound?.(content as unknown as LayerContent) ?? true,
  );
};

export const LAYER = object({
  id: id(),
  index: finite(),
  setId: id(),
  parentId: string().nullable().defined().max(100),
  name: string().required().max(200),
  note: string().defined().max(2000),
  content: oneOf("type", CONTENT_RECORDS, contentOf),
  opacity: share(),
  mode: string()
    .oneOf([...BLEND_MODES])
    .required(),
  blendIn: string()
    .oneOf([...BLEND_INS])
    .required(),
  visible: boolean().required(),
  locked: boolean().required(),
  clipped: boolean().required(),
  seamPx: finite().min(0).max(400),
  mask: object({
    base: number().oneOf([0, 1]).required(),
    inverted: boolean().required(),
    parts: partsOf(0),
    refinePx: finite().min(0).max(400),
    featherPx: finite().min(0).max(2000),
    low: encoded(),
    high: encoded(),
    density: share(),
  }).required(),
});
