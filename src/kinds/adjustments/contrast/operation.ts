import { run, type Operation } from "../tools";

export const contrast: Operation = { apply: (on, { factor, pivot }) => run(on, "gradeSamples", factor, pivot, 1) };
