import { remember } from "../../core/numeric/remember";
import { localTone } from "./localTone/record";
import { toneResponse } from "./toneResponse/record";
import { exposure } from "./exposure/record";
import { shade } from "./shade/record";
import { zones } from "./zones/record";
import { contrast } from "./contrast/record";
import { curve } from "./curve/record";
import { levels } from "./levels/record";
import { whiteBalance } from "./whiteBalance/record";
import { chroma } from "./chroma/record";
import { hueBand } from "./hueBand/record";
import { tint } from "./tint/record";
import { falloff } from "./falloff/record";
import { detail } from "./detail/record";
import { sharpen } from "./sharpen/record";
import { highPass } from "./highPass/record";
import { glow } from "./glow/record";
import { haze } from "./haze/record";
import { clearing } from "./clearing/record";
import { balance } from "./balance/record";
import { noise } from "./noise/record";
import { grain } from "./grain/record";
import { mixture } from "./mixture/record";
import { mono } from "./mono/record";
import { invert } from "./invert/record";
import type { MeasuredValues } from "../values";
import type { AdjustmentRecord } from "./fields";

/** All adjustments that a layer can be, in the order they are offered. */
export const ADJUSTMENT_RECORDS = {
  exposure,
  zones,
  contrast,
  curve,
  levels,
  whiteBalance,
  shade,
  chroma,
  hueBand,
  tint,
  falloff,
  detail,
  sharpen,
  highPass,
  glow,
  haze,
  clearing,
  balance,
  noise,
  grain,
  mixture,
  mono,
  invert,
  localTone,
  toneResponse,
};

export type Adjustment = keyof typeof ADJUSTMENT_RECORDS;

/** What the values of an adjustment are: unit, limits and the value that does nothing. */
export const valuesOfKind = (adjustment: Adjustment): MeasuredValues => ADJUSTMENT_RECORDS[adjustment].values;

const inUse = remember((kind: MeasuredValues) =>
  remember((given: Record<string, number>) => Object.fromEntries(Object.entries(kind).map(([name, { neutral }]) => [name, given[name] ?? neutral]))),
);

/** Values in use: neutral where none is given. The same object for the same, so that what is made of them is made once. */
export const valuesOf = (adjustment: Adjustment, given: Record<string, number>): Record<string, number> => inUse(valuesOfKind(adjustment))(given);

export const isAdjustment = (name: unknown): name is Adjustment => typeof name === "string" && Object.hasOwn(ADJUSTMENT_RECORDS, name);

const recordOf = (adjustment: Adjustment) => ADJUSTMENT_RECORDS[adjustment] as AdjustmentRecord;

/** Samples around a place that an adjustment looks at, at a level. */
export const adjustmentReach = (adjustment: Adjustment, given: Record<string, number>, level: number): number =>
  recordOf(adjustment).reach?.(valuesOf(adjustment, given), level) ?? 0;

/** Values that say how much an adjustment does. */
export const amountsOf = (adjustment: Adjustment): readonly string[] => recordOf(adjustment).amounts ?? [];

export const readsAll = (adjustment: Adjustment, given: Record<string, number>): boolean =>
  recordOf(adjustment).readsAll?.(valuesOf(adjustment, given)) ?? false;

export const needsSceneLight = (adjustment: Adjustment): boolean => recordOf(adjustment).needsSceneLight ?? false;
