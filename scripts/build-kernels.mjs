// Compiles the AssemblyScript kernels and puts the wasm files the application serves into public/wasm.
import { copyFileSync, existsSync, mkdirSync, readdirSync, statSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import asc from "assemblyscript/asc";

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
const sources = readdirSync("src/kernels/assembly").map((name) => join("src/kernels/assembly", name));
const target = "public/wasm/kernels.wasm";
mkdirSync("public/wasm", { recursive: true });
const newest = Math.max(...sources.map((file) => statSync(file).mtimeMs));
if (!existsSync(target) || statSync(target).mtimeMs < newest) {
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
const CODECS = {
  jpeg: "node_modules/@cornerstonejs/codec-libjpeg-turbo-8bit/dist/libjpegturbowasm.wasm",
  webp: "node_modules/@jsquash/webp/codec/dec/webp_dec.wasm",
  avif: "node_modules/@jsquash/avif/codec/dec/avif_dec.wasm",
  raw: "node_modules/libraw-wasm/dist/libraw.wasm",
  profiles: "node_modules/lcms-wasm/dist/lcms.wasm",
};
for (const [name, file] of Object.entries(CODECS)) copyFileSync(file, `public/wasm/${name}.wasm`);
