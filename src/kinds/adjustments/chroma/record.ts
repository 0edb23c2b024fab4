import { share, times, type MeasuredValues } from "../../values";

export const chroma = { factor: times(), protect: share(0.5) } as const satisfies MeasuredValues;
