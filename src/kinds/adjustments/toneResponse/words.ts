import type { KindWords } from "../../wording";

export const toneResponse: KindWords = {
  name: "Tone response",
  does: "Scene light becomes light for a screen; hue stays.",
  values: {
    curve: { name: "Curve", choices: ["Reinhard", "Toe and shoulder"] },
    headroomEv: "White point",
    shoulderEv: "Shoulder below white",
    toeEv: "Toe below white",
    toeLiftEv: "Lift blacks",
  },
};
