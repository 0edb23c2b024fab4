import type { AdjustmentRecord } from "../fields";
import { duv, mired } from "../../values";

export const whiteBalance = { values: { mired: mired(), duv: duv() }, amounts: ["mired", "duv"] } satisfies AdjustmentRecord;
