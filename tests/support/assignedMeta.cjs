// Jest runs packages as CommonJS; one decoder's glue assigns to import.meta.url, which the compiler leaves as it is.
const { transformSync } = require("@swc/core");

module.exports = {
  process: (code, filename) =>
    transformSync(code.replace(/import\.meta\.url\s*=\s*("[^"]*")/g, "void $1"), {
      filename,
      jsc: { target: "es2022" },
      module: { type: "commonjs" },
      swcrc: false,
    }),
};
