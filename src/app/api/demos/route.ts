import { demos, headersOf, serve } from "../serve";

export const dynamic = "force-dynamic";

export const GET = (request: Request): Promise<Response> => serve(() => demos.list(headersOf(request)));
