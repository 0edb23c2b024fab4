import { IntlMessageFormat } from "intl-messageformat";

const compiled = new Map<string, IntlMessageFormat>();

/** A message in ICU syntax with its values filled in: plurals right, figures as the language writes them, a true minus. */
export function say(message: string, values: Record<string, string | number> = {}): string {
  let format = compiled.get(message);
  if (!format) {
    format = new IntlMessageFormat(message, "en");
    compiled.set(message, format);
  }
  return String(format.format(values)).replace(/-(?=\d)/g, "\u2212");
}
