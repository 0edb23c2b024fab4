/** Parts of masks. */
export const MASKING_SCREEN = {
  "masking/between": "Between",
  "masking/lookFor": "Look for",
  "masking/dragBoxAroundOn": "Drag a box around it on the picture.",
  "masking/pressOnPictureWhere": "Press on the picture where it is.",
  "masking/looking": "Looking …",
  "masking/nothingKindWasFound": "Nothing of the kind was found here.",
  "masking/pictureSureShare": "{share} of the picture, {value} % sure",
  "masking/lookMendMoreParts": "{sure}: look at it, and mend it with more parts or the brush.",
} as const;
