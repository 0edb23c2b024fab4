import { join } from "node:path";
import type { Answer, Headers } from "../../server/answer";
import { Demos } from "../../server/demos";

/** One for all requests. */
export const demos = new Demos(join(process.cwd(), "demo"));

export const headersOf =
  (request: Request): Headers =>
  (name) =>
    request.headers.get(name);

/** What the server answers, as the framework sends it. */
export const send = ({ status, headers, body }: Answer): Response => new Response(body, { status, headers });
