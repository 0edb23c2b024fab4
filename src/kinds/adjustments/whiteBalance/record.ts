import { duv, mired, type MeasuredValues } from "../../values";

export const whiteBalance = { mired: mired(), duv: duv() } as const satisfies MeasuredValues;
