/** A name within a sentence: its first letter small, units and what else it holds as they are. */
export const lowerFirst = (name: string): string => name.charAt(0).toLowerCase() + name.slice(1);
