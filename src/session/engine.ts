import { chosenThreads } from "./threads";
import { EngineClient } from "../workers/client/EngineClient";
import { engineName } from "../workers/protocol/engineName";

/** The one engine of this tab. */
export const engine = new EngineClient(
  () => new Worker(new URL("../workers/entries/engine.worker.ts", import.meta.url), { type: "module", name: engineName(chosenThreads()) }),
);
