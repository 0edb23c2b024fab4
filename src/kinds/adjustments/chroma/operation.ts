import { scaleChroma } from "../../../core/adjust/colour";
import { byOklab, run, type Operation } from "../tools";

const inOklch = byOklab(scaleChroma);

export const chroma: Operation = (on, values) => (values.space === 1 ? run(on, "gradeSamples", 1, 1, values.factor) : inOklch(on, values));
