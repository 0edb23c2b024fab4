// Compiles the AssemblyScript kernels and puts the wasm files the application serves into public/wasm.
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, renameSync, statSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { bundle, newestOf } from "./node-bundle.mjs";

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
const sources = readdirSync("src/kernels/assembly").map((name) => join("src/kernels/assembly", name));
const target = "public/wasm/kernels.wasm";
mkdirSync("public/wasm", { recursive: true });
const newest = Math.max(...sources.map((file) => statSync(file).mtimeMs));
if (!existsSync(target) || statSync(target).mtimeMs < newest) {
  // compilers are loaded only where there is something to compile: the command line asks every time it is called
  const { default: asc } = await import("assemblyscript/asc");
  const { error, stderr } = await asc.main([
    "src/kernels/assembly/index.ts",
    "--outFile",
    target,
    "--runtime",
    "stub",
    "--importMemory",
    "--sharedMemory",
    "--initialMemory",
    "1024",
    "--maximumMemory",
    "16384",
    "--enable",
    "simd",
    "--enable",
    "threads",
    "-O3",
    "--noAssert",
  ]);
  if (error) {
    process.stderr.write(stderr.toString());
    process.exit(1);
  }
}
// each coder's compiled module and, where it has one, the script that starts it, both as they come
const CODECS = {
  jpeg: { wasm: "@cornerstonejs/codec-libjpeg-turbo-8bit/dist/libjpegturbowasm.wasm" },
  webp: { wasm: "@jsquash/webp/codec/dec/webp_dec.wasm", js: "@jsquash/webp/codec/dec/webp_dec.js" },
  avif: { wasm: "@jsquash/avif/codec/dec/avif_dec.wasm", js: "@jsquash/avif/codec/dec/avif_dec.js" },
  raw: { wasm: "libraw-wasm/dist/libraw.wasm", js: "libraw-wasm/dist/libraw.js" },
  profiles: { wasm: "lcms-wasm/dist/lcms.wasm", js: "lcms-wasm/dist/lcms.js" },
};
for (const [name, files] of Object.entries(CODECS)) {
  for (const [ending, file] of Object.entries(files)) {
    const [from, to] = [`node_modules/${file}`, `public/wasm/${name}.${ending}`];
    if (existsSync(to) && readFileSync(to).equals(readFileSync(from))) continue;
    // by way of another name, so that a process that runs beside this one never reads half a file
    copyFileSync(from, `${to}.${process.pid}`);
    renameSync(`${to}.${process.pid}`, to);
  }
}

// the thread of the pool in Node, for the command line, the benchmarks and the tests
const thread = "build/poolThread.mjs";
mkdirSync("build", { recursive: true });
if (!existsSync(thread) || statSync(thread).mtimeMs < newestOf("src")) await bundle("src/cli/poolThread.ts", thread);
