import { whiteBalanceMatrix } from "../../../core/color/whiteBalance";
import { applyMatrix, type Operation } from "../tools";

export const whiteBalance: Operation = (on, { mired, duv }) => applyMatrix(on, whiteBalanceMatrix(mired, duv));
