import { run, type Operation } from "../tools";

export const contrast: Operation = (on, { factor, pivot }) => run(on, "gradeSamples", factor, pivot, 1);
