/** A few names of many, for a sentence. */
export const named = (names: string[], most = 4): string => names.slice(0, most).join(", ") + (names.length > most ? ` and ${names.length - most} more` : "");
