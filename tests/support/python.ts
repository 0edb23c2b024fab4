import { execFileSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

/** Debian's Python with its OpenCV, numpy, tifffile and PIL; installed by scripts/test. */
const PYTHON = "/usr/bin/python3";

/** Runs a script and reads the JSON it prints last. */
export function runPython<T>(script: string, args: string[] = []): T {
  const out = execFileSync(PYTHON, ["-c", script, ...args], { encoding: "utf8", maxBuffer: 1 << 28, env: { ...process.env, OPENCV_IO_ENABLE_OPENEXR: "1" } });
  return JSON.parse(out.trim().split("\n").pop()!) as T;
}

/** Runs a script of tests/support and reads the JSON it prints last. */
export function runSupport<T>(script: string, args: string[]): T {
  const out = execFileSync(PYTHON, [join("tests/support", script), ...args], { encoding: "utf8", maxBuffer: 1 << 28 });
  return JSON.parse(out.trim().split("\n").pop()!) as T;
}

export function temporaryFolder(): string {
  return mkdtempSync(join(tmpdir(), "marsh-test-"));
}

const COMPUTING = [
  "inspect",
  "plate",
  "seat",
  "group",
  "register",
  "merge",
  "panorama",
  "matte",
  "sky-swap",
  "match",
  "develop",
  "proof",
  "softproof",
  "render",
];
/** Tests run side by side, one a core: each computes on one thread, where it does not say otherwise. */
const onOneThread = (args: string[]) => (COMPUTING.includes(args[0]) && !args.includes("--threads") ? [...args, "--threads", "1"] : args);

let isBuilt = false;
/** Builds what is older than its sources, once for all calls of a test file. */
function build(): void {
  if (!isBuilt) for (const script of ["build-kernels", "build-cli"]) execFileSync("node", [`scripts/${script}.mjs`]);
  isBuilt = true;
}

/** The command line, as scripts/marsh calls it. @returns exit code, standard output and standard error */
export function runMarsh(args: string[]): { code: number; out: string; err: string } {
  build();
  try {
    return {
      code: 0,
      out: execFileSync("node", ["--disable-warning=ExperimentalWarning", "build/marsh.mjs", ...onOneThread(args)], {
        encoding: "utf8",
        stdio: ["ignore", "pipe", "pipe"],
        maxBuffer: 1 << 28,
      }),
      err: "",
    };
  } catch (error) {
    const e = error as { status: number; stdout: string; stderr: string };
    return { code: e.status, out: e.stdout, err: e.stderr };
  }
}
