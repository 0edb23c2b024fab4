import { ValidationError, type Schema } from "yup";
import { asMessage, message, type Telling } from "../messages/message";

/** What the server answers, whatever serves it. */
export interface Answer {
  status: number;
  headers: Record<string, string>;
  body: ReadableStream<Uint8Array> | string | null;
}

/** What of a request's headers is looked at, by its name in small letters. */
export type Headers = (name: string) => string | null;

const JSON_BODY = { "content-type": "application/json", "cache-control": "no-cache" };

export const answerJson = (value: unknown): Answer => ({ status: 200, headers: JSON_BODY, body: JSON.stringify(value) });

/** A refusal, as a code and its values: the page makes the sentence. */
export const refuse = (status: number, told: Telling, headers: Record<string, string> = {}): Answer => ({
  status,
  headers: { ...JSON_BODY, ...headers },
  body: JSON.stringify(asMessage(told)),
});

/** The answer of some work; where it fails, that is said and nothing else, for what failed is the server's own affair. */
export async function answered(work: () => Promise<Answer>): Promise<Answer> {
  try {
    return await work();
  } catch (error) {
    // eslint-disable-next-line no-console -- the log of the server, which is where its failures belong
    console.error(error);
    return refuse(500, "server.failed");
  }
}

/** Lets pages of another origin have nothing. @returns the refusal, or null @see https://www.w3.org/TR/fetch-metadata/ */
export function refuseOthers(headers: Headers): Answer | null {
  const site = headers("sec-fetch-site");
  return site === null || site === "same-origin" || site === "none" ? null : refuse(403, "server.otherPage");
}

/** What was asked for, checked. @returns the refusal where it is not of the shape */
export function checked<T>(schema: Schema<T>, asked: unknown): { asked: T } | { refusal: Answer } {
  try {
    return { asked: schema.validateSync(asked, { strict: true }) };
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    return { refusal: refuse(400, message("server.unclear", { fault: error.message.slice(0, 200) })) };
  }
}
