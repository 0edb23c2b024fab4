import { band } from "../../../core/masks/shapes";
import type { PartOperation } from "../tools";
import type { Light } from "./record";

export const light: PartOperation<Light> = {
  shape: (on, { of, fromEv, toEv, softEv }, rect) => on.logLight(of, rect).map((v) => band(v, fromEv, toEv, softEv)),
};
