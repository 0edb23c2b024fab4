import { sharpen as sharpening } from "../../../core/adjust/spatial";
import { blurred, byLogLight, type Operation } from "../tools";

export const sharpen: Operation = { ...byLogLight(sharpening), reach: blurred };
