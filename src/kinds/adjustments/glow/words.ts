import type { KindWords } from "../../wording";

export const glow: KindWords = {
  name: "Glow",
  does: "Light above a limit spreads around it.",
  values: {
    amount: "Amount",
    radiusPx: "Radius",
    fromEv: "From",
  },
};
