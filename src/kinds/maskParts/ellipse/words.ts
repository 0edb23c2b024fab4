import type { PartWords } from "../../wording";

export const ellipse: PartWords = {
  name: "Ellipse",
  does: "Inside an ellipse, drawn from its centre.",
  hint: "Drag on the picture from its centre; with d held, a circle.",
  values: { angleDeg: "Rotation" },
};
