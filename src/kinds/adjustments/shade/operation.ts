import { LUMINANCE } from "../../../core/color/primaries";
import { whiteBalanceMatrix } from "../../../core/color/whiteBalance";
import { exp2 } from "../../../core/numeric/elementary";
import { applyMatrix, type Operation } from "../tools";

/** Another light of that colour, that many EV stronger: neutral things keep their luminance but for those. */
export const shade: Operation = (on, { ev, mired }) => {
  const matrix = whiteBalanceMatrix(mired, 0);
  const neutral = [0, 1, 2].reduce((sum, c) => sum + LUMINANCE[c] * (matrix[3 * c] + matrix[3 * c + 1] + matrix[3 * c + 2]), 0);
  const gain = exp2(ev) / neutral;
  applyMatrix(
    on,
    matrix.map((v) => gain * v),
  );
};
