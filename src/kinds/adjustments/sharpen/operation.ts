import { sharpen as sharpening } from "../../../core/adjust/spatial";
import { byLogLight } from "../tools";

export const sharpen = byLogLight(sharpening);
