import type { PartWords } from "../../wording";

export const sunk: PartWords = {
  name: "Sunk among blades",
  does: "The lowest of something seated, where the plate's grass, reeds or snow come up over it.",
  values: { depthCm: "How high they reach", roughCm: "How uneven", bladeCm: "Width of a blade" },
};
