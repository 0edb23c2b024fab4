import { levelOfSide } from "../../../core/geometry/rectangle";
import type { Cutter } from "./Cutter";

/** Longest side of the level on which a matte is judged. */
const SIDE = 800;

/** The level on which something cut out is judged. */
export const judgedLevel = (cutter: Cutter): number => Math.min(cutter.base, levelOfSide(cutter.picture, SIDE));
