import type { CATALOGUE } from "./catalogue";

/** Names the sentence of a message in the catalogue. */
export type MessageCode = keyof typeof CATALOGUE;

/** What a message tells: text and figures as they are, other messages, or a list of either. */
export type MessageValue = string | number | Message | readonly (string | number | Message)[];

/** Something told to a person: a code of the catalogue and the values of its sentence. It can be stored and sent to another thread. */
export interface Message {
  code: MessageCode;
  values: Readonly<Record<string, MessageValue>>;
}

type Branch = `${string}${"one" | "other" | "=0" | "=1" | "yes"} `;
type NameOf<Rest extends string> = Rest extends `${infer Whole}}${string}` ? (Whole extends `${infer Name},${string}` ? Name : Whole) : never;
/** Names between braces in ICU syntax; what a plural or a choice between yes and other says in its branches is text. */
type NamesIn<S extends string> = S extends `${infer Before}{${infer Rest}` ? (Before extends Branch ? never : NameOf<Rest>) | NamesIn<Rest> : never;
type ValuesOf<C extends MessageCode> = Readonly<Record<NamesIn<(typeof CATALOGUE)[C]>, MessageValue>>;

/** Codes whose sentences need no values. */
export type PlainCode = { [C in MessageCode]: [NamesIn<(typeof CATALOGUE)[C]>] extends [never] ? C : never }[MessageCode];

/** A message, or its code where it has no values. */
export type Telling = Message | PlainCode;

/** A message with all the values that its sentence names. */
export function message<C extends MessageCode>(code: C, values: ValuesOf<C>): Message {
  return { code, values };
}

/** A message without values as one like any other. */
export const asMessage = (told: Telling): Message => (typeof told === "string" ? { code: told, values: {} } : told);

/** What a person wrote, or was written when messages were stored as sentences. */
export const written = (text: string): Message => ({ code: "written", values: { text } });

/** What a message may hold at most, where it comes from a file. */
const MOST = { code: 60, values: 12, text: 1000, list: 64, depth: 3 };

/** Whether something read from a file is a message. Its code may be one of another version. */
export function isMessage(value: unknown, depth = 0): value is Message {
  if (typeof value !== "object" || value === null || depth > MOST.depth) return false;
  const { code, values, ...more } = value as Record<string, unknown>;
  if (typeof code !== "string" || code.length === 0 || code.length > MOST.code || Object.keys(more).length > 0) return false;
  if (typeof values !== "object" || values === null || Array.isArray(values) || Object.keys(values).length > MOST.values) return false;
  const isPart = (v: unknown) => (typeof v === "string" ? v.length <= MOST.text : typeof v === "number" ? Number.isFinite(v) : isMessage(v, depth + 1));
  return Object.values(values).every((v) => (Array.isArray(v) ? v.length <= MOST.list && v.every(isPart) : isPart(v)));
}

/** An error that is told to a person. Its own `message` is for logs: the code and the values. */
export class ToldError extends Error {
  readonly told: Message;

  constructor(told: Telling) {
    const { code, values } = asMessage(told);
    super(Object.keys(values).length > 0 ? `${code} ${JSON.stringify(values)}` : code);
    this.told = { code, values };
  }
}
