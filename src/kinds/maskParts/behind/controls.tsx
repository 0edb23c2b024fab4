import type { PartControls } from "../controlling";
import type { Behind } from "./record";

/** Made where something is seated. */
export const behind: PartControls<Behind> = { begin: null };
