import { ev, type MeasuredValues } from "../../values";

export const exposure = { ev: ev(8) } as const satisfies MeasuredValues;
