import { IntlMessageFormat } from "intl-messageformat";

const compiled = new Map<string, IntlMessageFormat>();
/** What the syntax of messages gives a meaning to. */
const SYNTAX = /[{}<'#]/;
/** Stands for a hyphen of a name while figures get their true minus. */
const HYPHEN = "\ue000";

/** A message in ICU syntax with its values filled in: plurals right, figures as the language writes them, a true minus; text stays as it is. */
export function say(text: string, values: Record<string, string | number> = {}): string {
  // most words of a screen say what they say
  if (!SYNTAX.test(text)) return withMinus(text);
  let format = compiled.get(text);
  if (!format) {
    format = new IntlMessageFormat(text, "en");
    compiled.set(text, format);
  }
  const kept = Object.fromEntries(Object.entries(values).map(([name, v]) => [name, typeof v === "string" ? v.replaceAll("-", HYPHEN) : v]));
  return withMinus(String(format.format(kept))).replaceAll(HYPHEN, "-");
}

const withMinus = (text: string) => text.replace(/-(?=\d)/g, "\u2212");
