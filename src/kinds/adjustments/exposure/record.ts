import type { AdjustmentRecord } from "../fields";
import { ev } from "../../values";

export const exposure = { values: { ev: ev(8) }, amounts: ["ev"] } satisfies AdjustmentRecord;
