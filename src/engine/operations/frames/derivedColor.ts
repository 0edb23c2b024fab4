import type { InputColor } from "../../../formats/icc/readProfile";
import type { DerivedCache } from "../../graph/DerivedCache";

/** A colour holds a table of 65536 values a channel as soon as something is read through it. */
const BYTES = 3 * 65536 * 4;

const serials = new WeakMap<InputColor, number>();
let latest = 0;

/** A colour made from another, which is never changed in place; the same object for the same values while it is kept, so that its tables are made once. */
export function derivedColor(cache: DerivedCache, from: InputColor, values: unknown[], make: () => InputColor): InputColor {
  const serial = serials.get(from) ?? ++latest;
  serials.set(from, serial);
  return cache.take(`colour/${serial}/${JSON.stringify(values)}`, make, () => BYTES);
}
