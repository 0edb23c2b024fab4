/** What a value is called; a hint says what its number means, choices name the numbers from 0. */
export type ValueWords = string | { name: string; hint?: string; choices?: readonly string[] };

export interface KindWords {
  name: string;
  /** what it does, in a sentence */
  does: string;
  values: Record<string, ValueWords>;
}

export const CHANNELS = { name: "Channel", choices: ["All", "Red", "Green", "Blue"] };

/** Words for each of a row of things. */
export function rowWords(length: number, words: (place: number) => Record<string, ValueWords>): Record<string, ValueWords> {
  const places = Array.from({ length }, (_, place) => Object.entries(words(place)).map(([name, value]) => [`${name}${place}`, value] as const));
  return Object.fromEntries(places.flat());
}

/** What a part of a mask and its values are called. */
export interface PartWords extends KindWords {
  /** how it is set on the picture */
  hint?: string;
  /** what it does to the parts before it, where it is not combined with them */
  over?: { first: string; later: string };
  /** another name where it depends on what it holds */
  nameOf?: (part: object) => string;
}

export const DRAWN = "Drag on the picture to draw it anew.";
