import { duv, mired, type AdjustmentValues } from "../values";

export const whiteBalance = { mired: mired(), duv: duv() } as const satisfies AdjustmentValues;
