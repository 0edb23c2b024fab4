import { balanceByTone } from "../../../core/adjust/colour";
import { byLight } from "../tools";

export const balance = byLight(balanceByTone);
