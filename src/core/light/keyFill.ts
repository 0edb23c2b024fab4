import { exp2 } from "../numeric/elementary";
import type { Vector3 } from "../panorama/camera";
import { facing } from "./lamp";

/** One light from one side, and one from all around. */
export interface KeyFill {
  /** towards the key, of unit length */
  towards: Vector3;
  /** what faces the key over what gets none of it, EV */
  ratioEv: number;
}

/** Sine of half of the width of a key: the sun through air. A wider one is rounder. */
const KEY_SINE = 0.05;

/** Light on a surface, such that what faces the key has 1. @param normal of unit length */
export function keyFillLight({ towards, ratioEv }: KeyFill, normal: Vector3): number {
  const fill = exp2(-ratioEv);
  return fill + (1 - fill) * facing(normal[0] * towards[0] + normal[1] * towards[1] + normal[2] * towards[2], KEY_SINE);
}
