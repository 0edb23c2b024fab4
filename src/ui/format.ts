/** Figures for people: true minus sign, narrow no-break space before the unit. */
const THIN = "\u202f";

export function signed(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits);
  if (Number(text) === 0) return text;
  return `${value < 0 ? "\u2212" : "+"}${text}`;
}

export function plain(value: number, digits: number): string {
  return `${value < 0 ? "\u2212" : ""}${Math.abs(value).toFixed(digits)}`;
}

export function withUnit(text: string, unit: string): string {
  return `${text}${THIN}${unit}`;
}

/** A share as per cent, with no more digits than a person can use. */
export function percent(share: number): string {
  const p = share * 100;
  return withUnit(p === 0 ? "0" : p < 0.05 ? "<0.1" : p < 10 ? p.toFixed(1) : p.toFixed(0), "%");
}

/** Shutter time as written on a camera. */
export function shutter(seconds: number): string {
  return withUnit(seconds >= 0.4 ? plain(seconds, seconds < 10 ? 1 : 0) : `1/${Math.round(1 / seconds)}`, "s");
}

export function megapixels(width: number, height: number): string {
  return withUnit(((width * height) / 1e6).toFixed(1), "MP");
}

/** A moment: the time of today, else the day with it, else the day of another year. */
export function clock(iso: string | null, now = new Date()): string {
  if (!iso) return "never";
  const at = new Date(iso);
  const time = at.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  if (at.toDateString() === now.toDateString()) return time;
  if (at.getFullYear() === now.getFullYear()) return `${at.toLocaleDateString("en-GB", { day: "numeric", month: "short" })}, ${time}`;
  return at.toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}

export function bytes(n: number): string {
  return n > 1e9 ? withUnit((n / 1e9).toFixed(1), "GB") : withUnit((n / 1e6).toFixed(1), "MB");
}

/** Whole pixels with a thin space every three digits. */
export function pixels(v: number): string {
  return Math.round(v)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, THIN);
}
