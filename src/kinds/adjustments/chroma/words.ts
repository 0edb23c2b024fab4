import type { KindWords } from "../../wording";

export const chroma: KindWords = {
  name: "Chroma",
  does: "Multiplies chroma, in Oklch less where it is strong already.",
  values: { factor: "Chroma", protect: "Strong colours kept", space: { name: "Judged in", choices: ["Oklch", "Linear light"] } },
};
