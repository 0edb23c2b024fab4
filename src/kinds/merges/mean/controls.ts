import type { MergeControls } from "../controlling";
import { NoiseSection } from "../NoiseSection";

export const mean: MergeControls<"mean"> = { Controls: NoiseSection };
