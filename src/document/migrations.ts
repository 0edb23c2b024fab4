/** The version this program writes. A file of a newer version is refused with a sentence. */
export const DOCUMENT_VERSION = 1;

/** Steps from version k to k + 1. Version 1 is the first, so there is none yet; a completeness test walks the list. */
export const MIGRATIONS: Record<number, (json: unknown) => unknown> = {};
