import type { PartWords } from "../../wording";

export const channel: PartWords = {
  name: "Channel pushed apart",
  does: "One channel, pushed apart between two values.",
  values: { low: "Black at", high: "White at" },
};
