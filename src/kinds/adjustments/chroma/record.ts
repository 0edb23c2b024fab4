import type { AdjustmentRecord } from "../fields";
import { share, times } from "../../values";

export const chroma = { values: { factor: times(), protect: share(0.5) } } satisfies AdjustmentRecord;
