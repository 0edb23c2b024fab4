import { LOWEST_OCTAVE, OCTAVES, toneResponse as responseOf, toneTable, type ToneValues } from "../../../core/color/toneCurve";
import { WORKING_TO_REC709 } from "../../../engine/operations/frames/frameSamples";
import { remembered, run, type Operation } from "../tools";

/** The response that makes a scene-linear picture fit for a screen; judged in Rec. 709, the narrowest space delivered. */
export const toneResponse: Operation = (on, values) => {
  const table = remembered(on.cache, ["tone", values], () => toneTable(responseOf(values as unknown as ToneValues)));
  run(on, "toneSamples", on.scope.matrix(table), LOWEST_OCTAVE, OCTAVES, on.scope.matrix(WORKING_TO_REC709));
};
