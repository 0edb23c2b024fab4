import type { AdjustmentRecord } from "../fields";
import { share } from "../../values";

export const invert = { values: { amount: share(0) } } satisfies AdjustmentRecord;
