/** Stops below full scale that a histogram covers, and its bins a stop. */
export const STOPS = 12;
export const BINS_PER_STOP = 4;
