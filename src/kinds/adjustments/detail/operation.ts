import { detailContrast } from "../../../core/adjust/spatial";
import { byLogLight } from "../tools";

export const detail = byLogLight(detailContrast);
