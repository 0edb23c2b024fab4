import { demos, headersOf, serve } from "../../../serve";

export const dynamic = "force-dynamic";

export const GET = (request: Request, { params }: { params: Promise<{ demo: string; file: string }> }): Promise<Response> =>
  serve(async () => demos.file(await params, headersOf(request)));
