import type { PartControls } from "../controlling";
import type { Link } from "./record";

/** Chosen among the layers, in place of a kind. */
export const link: PartControls<Link> = { begin: null };
