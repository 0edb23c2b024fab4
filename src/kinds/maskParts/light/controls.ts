import type { PartControls } from "../controlling";
import type { Light } from "./record";

export const light: PartControls<Light> = { begin: () => ({ kind: "light", of: null, fromEv: -3, toEv: 8, softEv: 1 }) };
