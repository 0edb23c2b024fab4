import { signed, withUnit } from "../../ui/format";

/** Why an end of the picture's light is proposed. */
export const endReason = (dark: boolean, ev: number): string =>
  `0.5 % of this picture is ${dark ? "darker" : "brighter"} than ${withUnit(signed(ev, 1), "EV")}.`;
