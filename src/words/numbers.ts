/** A number with as many digits as it needs, at most so many after the point, and a true minus. */
export const numberText = (v: number, digits = 3): string => String(Math.round(v * 10 ** digits) / 10 ** digits).replace("-", "\u2212");
