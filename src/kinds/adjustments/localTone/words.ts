import type { KindWords } from "../../wording";

export const localTone: KindWords = {
  name: "Local tone compression",
  does: "Evens out large differences of light and keeps what is finer; edges carry no halo.",
  values: { strength: "Strength", scale: "Scale", floorEv: "Floor", ceilingEv: "Ceiling", pivotEv: "Stays at" },
};
