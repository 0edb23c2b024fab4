import { exp2 } from "../../../core/numeric/elementary";
import { applyMatrix, type Operation } from "../tools";

export const exposure: Operation = (on, { ev }) => {
  const gain = exp2(ev);
  applyMatrix(on, [gain, 0, 0, 0, gain, 0, 0, 0, gain]);
};
