// Tests that compute are bundled as the engine is: modules that look their imports up one by one, in a context whose globals are looked up too, run
// four times as long.
const { createHash } = require("node:crypto");
const { readdirSync, statSync } = require("node:fs");
const { join } = require("node:path");
const { buildSync } = require("esbuild");

// globals as locals: in the runner's context each use of a global is a look-up
const LOCAL = ["Math", "Number", "Object", "Array", "Map", "Set", "Promise"].concat(
  ["Float32Array", "Float64Array", "Uint8Array", "Uint16Array", "Uint32Array", "Int8Array", "Int16Array", "Int32Array", "Uint8ClampedArray", "DataView"],
  ["ArrayBuffer", "SharedArrayBuffer", "Atomics"],
);

const stateOf = (folder) =>
  readdirSync(folder, { withFileTypes: true })
    .map((e) => {
      const path = join(folder, e.name);
      if (e.isDirectory()) return stateOf(path);
      const { mtimeMs, size } = statSync(path);
      return `${path} ${mtimeMs} ${size}`;
    })
    .join("\n");

let state;

module.exports = {
  getCacheKey(_code, filename, { config }) {
    state ??= ["src", "tests/support"].map((f) => stateOf(join(config.rootDir, f))).join("\n");
    return createHash("sha1")
      .update(filename)
      .update(String(statSync(filename).mtimeMs))
      .update(state)
      .digest("hex");
  },
  process(_code, filename) {
    const { outputFiles } = buildSync({
      entryPoints: [filename],
      bundle: true,
      write: false,
      format: "cjs",
      platform: "node",
      target: "node20",
      packages: "external",
      // the runner has no modules that come later
      supported: { "dynamic-import": false },
      sourcemap: "inline",
      sourcesContent: false,
      logLevel: "error",
      banner: { js: LOCAL.map((n) => `const ${n} = globalThis.${n};`).join(" ") },
    });
    // the runner turns packages into CommonJS that says what its default is; Node, which the bundler follows, would not ask
    return { code: outputFiles[0].text.replace(/__toESM\((require\("[^"]+"\)), 1\)/g, "__toESM($1)") };
  },
};
