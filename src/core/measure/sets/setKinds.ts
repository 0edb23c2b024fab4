/** What the frames of a set are to each other. */
export const SET_KINDS = ["bracket", "focus", "panorama", "separate", "repeats", "sky", "developed", "cutout", "single"] as const;
export type SetKind = (typeof SET_KINDS)[number];

export const SET_KIND_NAMES: Record<SetKind, string> = {
  bracket: "Exposure bracket",
  focus: "Focus stack",
  panorama: "Panorama",
  separate: "Separate shots",
  repeats: "Repeats",
  sky: "Night sky",
  developed: "Developed pair",
  cutout: "Cut-out and plate",
  single: "Single frame",
};

/** What each kind is for, in one sentence. */
export const SET_KIND_PURPOSES: Record<SetKind, string> = {
  bracket: "One view at several exposures, for more range than one frame holds.",
  focus: "One view focused at several distances, for more depth than one frame holds.",
  panorama: "Overlapping views from one place, for a wider picture.",
  separate: "One view in several lights or with things moved, each best somewhere.",
  repeats: "The same view at the same settings, to average noise or remove passers-by.",
  sky: "Stars, to be stacked.",
  developed: "One exposure developed twice.",
  cutout: "A thing on a plain or transparent ground, and the scene it goes into.",
  single: "A frame on its own.",
};
