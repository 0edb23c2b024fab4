import type { PartControls } from "../controlling";
import type { Sunk } from "./record";

/** Made where something is seated. */
export const sunk: PartControls<Sunk> = { begin: null };
