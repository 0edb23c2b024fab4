import { highPass as detailAlone } from "../../../core/adjust/spatial";
import { blurred, lightOf, logLightOf, type Operation } from "../tools";

export const highPass: Operation = {
  apply: (on, values) => detailAlone(lightOf(on), logLightOf(on).slice(), values, on.where, on.filters),
  reach: blurred,
};
