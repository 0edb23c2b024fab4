import { share, type AdjustmentValues } from "../values";

export const invert = { amount: share(0) } as const satisfies AdjustmentValues;
