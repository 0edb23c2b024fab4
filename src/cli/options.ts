import { sentence } from "../messages/sentence";
import { availableParallelism } from "node:os";
import type { Task } from "../engine/task";
import { UsageError } from "./UsageError";

export interface Options {
  output?: string;
  reference?: string;
  model?: string;
  character?: string;
  target?: string;
  intent?: string;
  "no-black-point"?: boolean;
  "paper-as-white"?: boolean;
  region?: string[];
  ignore?: string[];
  ev?: string;
  response?: string;
  depth?: string;
  weights?: string;
  ghosts?: string;
  base?: string;
  "ghost-map"?: string;
  provenance?: string;
  confidence?: string;
  "remove-fringe"?: boolean;
  "undo-lateral"?: boolean;
  projection?: string;
  "focal-px"?: string;
  bend?: string;
  crop?: string;
  box?: string;
  trimap?: string;
  clean?: string;
  backdrop?: boolean;
  keep?: string[];
  leave?: string[];
  foreground?: string;
  length?: string;
  "camera-height"?: string;
  /** plate: marks; seat: whether one is laid */
  shadow?: string[] | boolean;
  foot?: string;
  height?: string;
  plate?: string;
  light?: string;
  lamps?: string;
  pan?: string;
  "land-light"?: string;
  water?: string;
  to?: string;
  paired?: boolean;
  pair?: string[];
  method?: string;
  mask?: string;
  relight?: boolean;
  defocus?: boolean;
  quality?: string;
  space?: string;
  "no-register"?: boolean;
  "no-crop"?: boolean;
  list?: boolean;
  threads?: string;
  json?: boolean;
  quiet?: boolean;
}

/** Numbers of an option, parted by commas. @throws UsageError where they are no such numbers */
export function numbersOf(option: string, form: string, text: string, count: number): number[] {
  const parts = text.split(",");
  const numbers = parts.map(Number);
  if (numbers.length !== count || !numbers.every(Number.isFinite) || parts.some((t) => t.trim() === ""))
    throw new UsageError(`${option} is ${form}; got "${text}".`);
  return numbers;
}

/** Where public/ lies: the folder above the built command. */
export const ROOT = new URL("..", import.meta.url).pathname;

/** Threads that compute at a time: those of --threads, else one for each core. @throws UsageError where that is no number of threads */
export function threadsOf({ threads }: Options): number {
  if (threads === undefined) return availableParallelism();
  const n = Number(threads);
  if (!Number.isInteger(n) || n < 1 || n > 256) throw new UsageError("--threads is a number from 1 to 256.");
  return n;
}

/** Progress on standard error, one line that renews itself on a terminal. */
export function progressTask(options: Options): Task {
  let last = "";
  return {
    step: async (done, total, telling) => {
      if (options.quiet) return;
      const what = sentence(telling);
      const line = `${what} ${Math.round((100 * done) / Math.max(1e-9, total))} %`;
      const stamp = process.stderr.isTTY ? line : what;
      if (stamp === last) return;
      last = stamp;
      process.stderr.write(process.stderr.isTTY ? `\r\x1b[K${line}` : `${what}\n`);
    },
  };
}

/** Prints a result: JSON for programs, lines for people. */
export function report(options: Options, json: unknown, lines: string[]): void {
  if (process.stderr.isTTY && !options.quiet) process.stderr.write("\r\x1b[K");
  process.stdout.write(options.json ? `${JSON.stringify(json)}\n` : `${lines.join("\n")}\n`);
}
