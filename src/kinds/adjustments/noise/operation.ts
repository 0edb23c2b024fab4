import { noiseReach, reduceNoise } from "../../../core/adjust/spatial";
import { byLight, type Operation } from "../tools";

export const noise: Operation = { ...byLight(reduceNoise), reach: (_values, level) => noiseReach(level) };
