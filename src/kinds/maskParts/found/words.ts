import type { PartWords } from "../../wording";
import type { Found } from "./record";

export const FOUND_WORDS: Record<Found, string> = { sky: "Sky", even: "Even surfaces", subject: "Subject in a box", near: "Around a place" };

export const found: PartWords = {
  name: "Found in the picture",
  does: "The sky, even surfaces, the subject in a box, or what surrounds a place: looked for in the picture, with how sure it is.",
  nameOf: (part) => FOUND_WORDS[(part as unknown as { what: Found }).what],
  values: { tolerance: "Within" },
};
