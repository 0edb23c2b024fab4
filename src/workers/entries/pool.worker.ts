import { serveThread } from "../../engine/pool/serveThread";
import type { ToThread } from "../../engine/pool/Pool";
import type { Codecs } from "../../formats/codecs";
import { loadCodecs } from "./loadCodecs";

/** A thread of the pool in the browser. */
let codecs: Promise<Codecs> | null = null;
const tools = { codecs: () => (codecs ??= loadCodecs()) };

self.onmessage = ({ data }: MessageEvent<ToThread>) => void serveThread(data, tools, (answer, transfer) => self.postMessage(answer, { transfer }));
