import type { PartControls } from "../controlling";
import type { Cast } from "./record";

/** Made where something is seated. */
export const cast: PartControls<Cast> = { begin: null };
