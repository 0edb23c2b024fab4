import type { MergeControls } from "../controlling";
import { NoiseSection } from "../NoiseSection";

export const clippedMean: MergeControls<"clippedMean"> = { Controls: NoiseSection };
