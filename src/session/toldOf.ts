/** What went wrong, as a person is told it. */
export interface Told {
  /** names the kind, for what asks about it: "FormatError.damaged" */
  code: string;
  told: Message;
}

/** What browsers throw where a file was moved, changed or locked since it was chosen, and where their storage is full; their own words are for programmers. */
const OF_BROWSERS: Record<string, PlainCode> = {
  NotReadableError: "browser.notReadable",
  NotFoundError: "browser.notFound",
  NotAllowedError: "browser.notAllowed",
  QuotaExceededError: "storage.full",
};

interface Thrown {
  name?: string;
  message?: string;
  code?: unknown;
  reason?: unknown;
  told?: Message;
}

/** What is told of whatever was thrown. What nobody wrote a sentence for is said to be that, with what was kept and what to do. */
export function toldOf(error: unknown): Told {
  const { name = "Error", message: text = String(error), code, reason, told } = (error ?? {}) as Thrown;
  const kind = typeof code === "string" ? code : typeof reason === "string" ? reason : null;
  const named = kind ? `${name}.${kind}` : name;
  if (told) return { code: named, told };
  if (Object.hasOwn(OF_BROWSERS, name)) return { code: named, told: asMessage(OF_BROWSERS[name]) };
  return { code: named, told: message("browser.unforeseen", { what: text.slice(0, 200).replace(/\.$/, "") }) };
}
import { asMessage, message, type Message, type PlainCode } from "../messages/message";
