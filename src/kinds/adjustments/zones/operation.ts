import { zoneTable } from "../../../core/adjust/tone";
import { LOWEST_OCTAVE, OCTAVES } from "../../../core/color/toneCurve";
import { remembered, run, type Operation } from "../tools";

export const zones: Operation = (on, values) =>
  run(on, "lightSamples", on.scope.matrix(remembered(on.cache, ["zones", values], () => zoneTable(values))), LOWEST_OCTAVE, OCTAVES);
