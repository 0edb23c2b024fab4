import type { PartControls } from "../controlling";
import type { Cells } from "./record";

/** Made by the weave. */
export const cells: PartControls<Cells> = { begin: null };
