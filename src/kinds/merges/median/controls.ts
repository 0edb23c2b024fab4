import type { MergeControls } from "../controlling";
import { NoiseSection } from "../NoiseSection";

export const median: MergeControls<"median"> = { Controls: NoiseSection };
