import type { AdjustmentWords } from "../wording";

export const glow: AdjustmentWords = {
  name: "Glow",
  does: "Light above a limit spreads around it.",
  values: {
    amount: "Amount",
    radiusPx: "Radius",
    fromEv: "From",
  },
};
