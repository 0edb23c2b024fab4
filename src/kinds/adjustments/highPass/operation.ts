import { highPass as detailAlone } from "../../../core/adjust/spatial";
import { lightOf, logLightOf, type Operation } from "../tools";

export const highPass: Operation = (on, values) => detailAlone(lightOf(on), logLightOf(on).slice(), values, on.where, on.filters);
