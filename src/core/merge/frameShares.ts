/** In a map of which frame gives a place: none does. */
export const NOBODY = 255;

/** Enlargement from which a frame is known to lack detail that the others have. Common practice, no source. */
export const ENLARGED = 1.1;

/** A frame that gives less than this share of a picture counts as unused. Common practice, no source. */
export const UNUSED_SHARE = 0.001;
