import { CATALOGUE } from "./catalogue";
import { asMessage, type Message, type MessageValue, type Telling } from "./message";
import { say } from "./say";

const LIST = new Intl.ListFormat("en-GB");

/** The sentence of a message, as a person reads it. */
export function sentence(told: Telling): string {
  const { code, values } = asMessage(told);
  // what another version wrote may have a code that is gone, or lack a value
  if (!Object.hasOwn(CATALOGUE, code)) return code;
  try {
    return say(CATALOGUE[code], Object.fromEntries(Object.entries(values).map(([name, value]) => [name, spoken(value)])));
  } catch {
    return code;
  }
}

/** The same with a capital, where it stands by itself. */
export function title(told: Telling): string {
  const text = sentence(told);
  return text.charAt(0).toUpperCase() + text.slice(1);
}

function spoken(value: MessageValue): string | number {
  if (typeof value === "string" || typeof value === "number") return value;
  if (isList(value)) return LIST.format(value.map((v) => String(spoken(v))));
  return sentence(value);
}

const isList = (value: Message | readonly (string | number | Message)[]): value is readonly (string | number | Message)[] => Array.isArray(value);
