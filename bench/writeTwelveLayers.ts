/** Writes the job of twelve layers as a job file. Run by scripts/bench painting. */
import { writeFileSync } from "node:fs";
import { takeStep } from "../src/document/edits";
import { EMPTY_HISTORY } from "../src/document/history";
import { DOCUMENT_VERSION } from "../src/document/migrations/migrations";
import { written } from "../src/messages/message";
import { writeJobFile } from "../src/storage/jobFile";
import { twelveLayers } from "./twelveLayers";

const { node, records } = await twelveLayers();
const { history } = takeStep(EMPTY_HISTORY, {}, () => records, { stage: "compose", label: written("twelve layers") }, new Date().toISOString());
const parts: Uint8Array[] = [];
await writeJobFile({ version: DOCUMENT_VERSION, id: "twelve-layers", history }, node.ctx.loadSource, (p) => parts.push(p));
writeFileSync(process.argv[2], Buffer.concat(parts));
process.exit(0);
