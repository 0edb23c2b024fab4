import { ev, type AdjustmentValues } from "../values";

export const exposure = { ev: ev(8) } as const satisfies AdjustmentValues;
