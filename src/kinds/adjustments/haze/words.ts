import type { KindWords } from "../../wording";

export const haze: KindWords = {
  name: "Haze",
  does: "An even veil of light taken away or laid on; give it a gradient or a depth as its mask.",
  values: {
    amount: {
      name: "Taken away",
      hint: "Below 0 it is laid on.",
    },
    veilEv: "Light of the veil",
    mired: "Warmth of the veil",
  },
};
