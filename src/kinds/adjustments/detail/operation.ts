import { detailContrast, detailReach } from "../../../core/adjust/spatial";
import { byLogLight, type Operation } from "../tools";

export const detail: Operation = { ...byLogLight(detailContrast), reach: detailReach };
