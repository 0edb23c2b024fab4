import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { parentPort, workerData } from "node:worker_threads";
import { serveThread } from "../engine/pool/serveThread";
import type { ToThread } from "../engine/pool/Pool";
import type { Codecs } from "../formats/codecs";
import { createNodeCodecs } from "./nodeCodecs";

/** A thread of the pool in Node. */
const root = (workerData as { root?: string } | null)?.root ?? join(dirname(fileURLToPath(import.meta.url)), "..");
let codecs: Promise<Codecs> | null = null;
const tools = { codecs: () => (codecs ??= createNodeCodecs(root)) };

parentPort!.on("message", (message: ToThread) => void serveThread(message, tools, (answer, transfer) => parentPort!.postMessage(answer, transfer)));
