/** Long corpora: all of them at night (scripts/night), every so many in between. */
export const NIGHT = Boolean(process.env.MARSH_NIGHT);

/** A test that others by day nearly cover: at night only. */
export const nightly = NIGHT ? it : it.skip;

/** Every `each`th of a corpus by day, the first among them. */
export const byDay = <T>(corpus: T[], each: number): T[] => (NIGHT ? corpus : corpus.filter((_, i) => i % each === 0));
