import type { AdjustmentRecord } from "../fields";
import { ev, mired } from "../../values";

export const shade = { values: { ev: ev(8), mired: mired() }, amounts: ["ev", "mired"] } satisfies AdjustmentRecord;
