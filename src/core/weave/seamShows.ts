/** A border shows that changes a picture by more than this on the average, or in the worst tenth of it, ΔE. Common practice, no source. */
const [ON_AVERAGE, AT_WORST] = [1, 1.5];

export const seamShows = ({ deltaE, worstDeltaE }: { deltaE: number; worstDeltaE: number }): boolean => deltaE > ON_AVERAGE || worstDeltaE > AT_WORST;
