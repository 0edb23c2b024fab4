import { DRAWN, type PartWords } from "../../wording";

export const ramp: PartWords = {
  name: "Linear gradient",
  does: "From nothing to all between two places, drawn on the picture.",
  hint: DRAWN,
  values: {},
};
