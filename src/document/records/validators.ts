import { lateral } from "../../kinds/merges/fields";
import { isMergeMethod, mergeKind } from "../../kinds/merges/records";
import { array, boolean, lazy, mixed, number, object, string, type Schema } from "yup";
import { isSetKind } from "../../kinds/sets/records";
import { ALPHA_KINDS } from "../../core/raster/raster";
import { MOST_TILT } from "../../core/geometry/tilt";
import { INTENTS } from "../../core/print/printed";
import { MODELS } from "../../core/register/models";
import { JOB_LIMITS, MOST_CAST, MOST_GUIDES } from "../limits";
import { cellPx, cellRuns, finite, id, matrix, numbers, packed, share, told, triple } from "./fields";
import { LAYER } from "./layerValidator";
import { PANORAMA } from "./panoramaValidator";
import { PLATE, SEAT } from "./plateValidator";
import { SWAP } from "./swapValidator";
import { WEAVE } from "./weaveValidator";
import type { RecordKind } from "./types";

const rectangle = () =>
  object({ x: finite().integer(), y: finite().integer(), width: finite().integer().min(1), height: finite().integer().min(1) }).required();
const optionalNumber = () => number().nullable().defined();
const optionalText = () => string().nullable().defined().max(300);
const lens = () =>
  object({ k1: finite().min(-1).max(1), k2: finite().min(-1).max(1) })
    .nullable()
    .defined();

const hash = () =>
  string()
    .required()
    .matches(/^[0-9a-f]{64}$/);
const end = () => array(finite().min(-FARTHEST).max(FARTHEST)).length(2).required();
const turn = () => finite().min(-MOST_TILT).max(MOST_TILT);

/** How far from the picture a stroke may lead, px: pictures are up to 30 000 px wide. */
const FARTHEST = 200_000;

function soundShape(value: unknown): boolean {
  const shape = value as { kind?: string; rectangle?: unknown; points?: unknown; diameterPx?: unknown } | null;
  if (shape?.kind === "box") return rectangle().isValidSync(shape.rectangle, { strict: true });
  if (shape?.kind !== "brush") return false;
  return array(finite()).max(20_000).isValidSync(shape.points, { strict: true }) && finite().min(1).max(20_000).isValidSync(shape.diameterPx, { strict: true });
}

/** One validator a record kind. Sizes and counts are bounded so that a hostile file cannot ask for the moon. */
export const VALIDATORS: Record<RecordKind, Schema> = {
  job: object({
    kind: string().required(),
    id: string().oneOf(["job"]).required(),
    name: string().required().max(200),
    createdAt: string().required(),
    workingSetId: id(),
  }),
  set: object({
    id: id(),
    index: finite(),
    setKind: string().required().test("setKind", "${path} is no known kind of set", isSetKind),
    reasons: array(told().required()).required().max(20),
    confidence: share(),
    by: string().oneOf(["proposed", "hand"]).required(),
    links: array(object({ score: finite(), dx: finite(), dy: finite() }))
      .required()
      .max(200),
    parity: array(
      object({
        frameId: id(),
        comparable: boolean().required(),
        rotationDeg: finite(),
        scale: finite(),
        k1: finite(),
        redEv: finite(),
        blueEv: finite(),
        tone: finite(),
        alone: array(finite().integer().min(0)).required().max(1000),
      }),
    )
      .nullable()
      .defined(),
  }),
  frame: object({
    id: id(),
    index: finite().integer(),
    setId: id(),
    development: object({
      exposureEv: finite().min(-12).max(12),
      mired: finite().min(-1000).max(1000),
      duv: finite().min(-1).max(1),
      tone: finite().min(0.2).max(5),
      lens: lens(),
    }).required(),
    sourceId: hash(),
    quarterTurns: number().oneOf([0, 1, 2, 3]).required(),
    fileName: string().required().max(300),
    format: string().required().max(100),
    alpha: string()
      .oneOf([...ALPHA_KINDS])
      .nullable()
      .defined(),
    width: finite().integer().min(1).max(30000),
    height: finite().integer().min(1).max(30000),
    bits: number().oneOf([8, 16, 32]).required(),
    colorName: string().defined().max(200),
    exposureTimeS: optionalNumber(),
    aperture: optionalNumber(),
    iso: optionalNumber(),
    focalLengthMm: optionalNumber(),
    focalLength35Mm: optionalNumber(),
    meteredEv: optionalNumber(),
    takenAt: optionalText(),
    shotFrom: object({
      latitudeDeg: finite().min(-90).max(90),
      longitudeDeg: finite().min(-180).max(180),
      headingDeg: optionalNumber(),
      overUtcH: optionalNumber(),
    }).default(undefined),
    make: optionalText(),
    model: optionalText(),
    copyright: optionalText(),
    software: optionalText(),
    measures: object({
      clippedHigh: triple(),
      clippedLow: triple(),
      noiseSigma: finite(),
      noiseAt: finite(),
      edgeWidthPx: finite(),
      brightness: finite(),
      sharpness: array(number().nullable().defined()).required().max(200),
      stars: finite(),
      plainBorder: share(),
    }).required(),
    notes: array(told().required()).required().max(100),
    excluded: boolean().required(),
  }),
  exposures: object({ id: string().oneOf(["exposures"]).required(), measuredEv: numbers() }),
  registration: object({
    id: id(),
    setId: id(),
    operationVersion: finite(),
    referenceId: id(),
    referenceReason: told().required(),
    model: string()
      .oneOf([...MODELS, "auto"])
      .required(),
    placements: array(
      object({
        frameId: id(),
        registered: boolean().required(),
        matrix: matrix(),
        lens: lens(),
        model: string()
          .oneOf([...MODELS])
          .required(),
        by: string().oneOf(["measured", "hand", "points"]).required(),
        points: array(array(finite()).length(4).required()).required().max(200),
        models: array(
          object({
            model: string()
              .oneOf([...MODELS])
              .required(),
            rmsPx: finite(),
          }),
        ).required(),
        drift: object({ rmsPx: finite(), agreeing: finite() }).nullable().defined(),
        residualPx: finite(),
        residualBeforePx: finite(),
        agreeing: finite(),
        confidence: finite(),
        otherPx: array(finite()).required().max(64),
        reason: told().nullable().defined(),
        shifts: array(array(finite()).required()).required(),
      }),
    )
      .required()
      .max(JOB_LIMITS.framesOfSet),
    proposedCrop: rectangle(),
  }),
  panorama: PANORAMA,
  merge: lazy((value: unknown): Schema => {
    const method = (value as { method?: unknown } | undefined)?.method;
    if (!isMergeMethod(method)) return mixed().test("method", "${path} is merged in no known way", () => false);
    return object({
      id: id(),
      setId: id(),
      operationVersion: finite(),
      method: string().required(),
      lateral: lateral().nullable().defined(),
      ghostThreshold: finite().min(1).max(100),
      baseId: string().nullable().defined().max(100),
      shares: numbers(),
      ...mergeKind(method).fields,
    });
  }) as unknown as Schema,
  ghost: object({
    id: id(),
    setId: id(),
    number: finite().integer().min(1),
    cellPx: cellPx(),
    runs: cellRuns(),
    strength: finite(),
    donorId: string().nullable().defined().max(100),
    proposedId: string().nullable().defined().max(100),
    chosen: boolean().required(),
    reason: told().required(),
    by: string().oneOf(["found", "hand"]).required(),
  }),
  layer: LAYER,
  weave: WEAVE,
  swap: SWAP,
  plate: PLATE,
  seat: SEAT,
  stroke: object({
    id: id(),
    index: finite(),
    layerId: id(),
    partId: id(),
    reveal: boolean().required(),
    diameterPx: finite().min(1).max(20000),
    softness: share(),
    flow: share(),
    opacity: share(),
    edgeTolerance: finite().min(0).max(100),
    spacing: finite().min(0.02).max(1),
    points: packed({ most: 300_000, from: -FARTHEST, to: FARTHEST }),
  }),
  geometry: object({
    id: id(),
    setId: id(),
    angleDeg: finite().min(-45).max(45),
    tilt: object({ pitchDeg: turn(), yawDeg: turn(), focalPx: finite().min(1).max(FARTHEST) })
      .optional()
      .default(undefined),
    lines: array()
      .of(object({ is: string().oneOf(["upright", "level"]).required(), from: end(), to: end() }))
      .max(MOST_GUIDES)
      .optional(),
    crop: rectangle(),
    ratio: optionalNumber(),
  }),
  region: object({
    id: id(),
    index: finite(),
    setId: id(),
    purpose: string().oneOf(["lineUp", "ignore"]).required(),
    shape: mixed().required().test("shape", "${path} is not a box or a brush stroke", soundShape),
  }),
  parity: object({ id: id(), setId: id(), aspect: string().required().max(100), reason: told().required() }),
  pin: object({
    id: id(),
    index: finite(),
    setId: id(),
    frameId: optionalText(),
    purpose: string().oneOf(["neutral", "exposure", "pair", "stay", "card"]).required(),
    x: finite(),
    y: finite(),
    radius: finite().min(0).max(500),
    target: optionalNumber(),
    mayBe: number().min(0).max(MOST_CAST).optional(),
    like: object({ x: finite(), y: finite() }).default(undefined),
  }),
  target: object({
    id: string().oneOf(["target"]).required(),
    sourceId: hash(),
    fileName: string().required().max(300),
    name: string().defined().max(200),
    intent: string().oneOf(INTENTS).required(),
    blackPoint: boolean().required(),
    paper: boolean().required(),
    widthMm: finite().min(10).max(20_000),
  }),
  acceptance: object({ id: id(), findingId: string().required().max(200), reason: string().defined().max(1000) }),
};
