/** The hue that a cast leans to, by a* and b*. */
export const hueWord = (a: number, b: number): string => (Math.abs(b) > Math.abs(a) ? (b > 0 ? "yellow" : "blue") : a > 0 ? "magenta" : "green");
