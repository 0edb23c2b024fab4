import { demos, headersOf, send } from "../serve";

export const dynamic = "force-dynamic";

export const GET = async (request: Request): Promise<Response> => send(await demos.list(headersOf(request)));
