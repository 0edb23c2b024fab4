import { join } from "node:path";
import { answered, type Answer, type Headers } from "../../server/answer";
import { Demos } from "../../server/demos";

/** One for all requests. */
export const demos = new Demos(join(process.cwd(), "demo"));

export const headersOf =
  (request: Request): Headers =>
  (name) =>
    request.headers.get(name);

/** What the server answers, as the framework sends it. */
export async function serve(work: () => Promise<Answer>): Promise<Response> {
  const { status, headers, body } = await answered(work);
  return new Response(body, { status, headers });
}
