import { glow as spreadLight } from "../../../core/adjust/spatial";
import { blurred, byLight, type Operation } from "../tools";

export const glow: Operation = { ...byLight(spreadLight), reach: blurred };
