import { share, type MeasuredValues } from "../../values";

export const invert = { amount: share(0) } as const satisfies MeasuredValues;
