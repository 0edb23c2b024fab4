import { demos, headersOf, send } from "../../../serve";

export const dynamic = "force-dynamic";

export const GET = async (request: Request, { params }: { params: Promise<{ demo: string; file: string }> }): Promise<Response> =>
  send(await demos.file(await params, headersOf(request)));
