// The layers of docs/architecture.md. Each rule names what a layer may import; everything else inside src is refused.
const layer = (name, path, allowed) => ({
  name,
  severity: "error",
  comment: `${path} may import only ${allowed.join(", ")}`,
  from: { path: `^src/${path}` },
  to: { path: "^src/", pathNot: allowed.map((a) => `^src/${a}`) },
});

module.exports = {
  forbidden: [
    { name: "no-circular", severity: "error", from: {}, to: { circular: true } },
    {
      name: "no-orphans",
      severity: "error",
      from: { orphan: true, path: "^src/", pathNot: ["\\.d\\.ts$", "src/app/", "src/kernels/assembly", "noFileSystem", "offline.worker"] },
      to: {},
    },
    layer("core", "core/", ["core/"]),
    layer("kernels", "kernels/", ["kernels/", "core/"]),
    layer("document", "document/", ["document/", "core/", "kinds/[a-zA-Z/]*(record|records|values|fields)\\.ts$"]),
    layer("formats", "formats/", ["formats/", "core/"]),
    layer("engine", "engine/", ["engine/", "core/", "kernels/", "document/", "formats/", "kinds/.*/(record|operation)"]),
    layer("storage", "storage/", ["storage/", "document/", "formats/", "engine/tiles/"]),
    layer("protocol", "workers/protocol/", ["workers/protocol/", "core/", "document/", "engine/", "storage/"]),
    {
      name: "protocol-types-only",
      severity: "error",
      from: { path: "^src/workers/protocol/" },
      to: { path: "^src/", dependencyTypesNot: ["type-only"] },
    },
    layer("client", "workers/client/", ["workers/client/", "workers/protocol/", "document/"]),
    layer("entries", "workers/entries/", ["workers/", "engine/", "kernels/", "core/", "formats/", "document/", "storage/"]),
    layer("cli", "cli/", ["cli/", "engine/", "kernels/", "core/", "formats/", "document/", "storage/"]),
    layer("ui", "ui/", ["ui/"]),
    // what a kind's file may import goes by its name: a record no operation, an operation no controls
    layer("records of kinds", "kinds/[a-zA-Z/]*(record|records|values|fields)\\.ts$", ["kinds/[a-zA-Z/]*(record|records|values|fields)\\.ts$", "core/", "document/records/"]),
    layer("operations of kinds", "kinds/.*/(operation|operations|tools)\\.ts$", [
      "kinds/[a-zA-Z/]*(record|records|values|fields|operation|operations|tools)\\.ts$",
      "core/",
      "kernels/",
      "document/",
      "formats/",
      "engine/",
    ]),
    layer("words of kinds", "kinds/[a-zA-Z/]*(words|wording)\\.ts$", ["kinds/[a-zA-Z/]*(record|records|values|words|wording)\\.ts$", "core/", "document/", "words/"]),
    {
      name: "operations of kinds-not-on-the-screen",
      severity: "error",
      from: { path: "^src/(session|view|features|app|words|kinds/.*/(controls|words))" },
      to: { path: "^src/kinds/.*/(operation|operations|tools)\\.ts$", dependencyTypesNot: ["type-only"] },
    },
    layer("words", "words/", ["words/", "core/", "document/", "kinds/[a-zA-Z/]*(record|records|values|words|wording)\\.ts$"]),
    layer("session", "session/", ["session/", "document/", "core/", "workers/client/", "workers/protocol/", "storage/", "engine/"]),
    layer("view", "view/", ["view/", "session/", "ui/", "document/", "core/", "workers/client/", "engine/"]),
    layer("features", "features/", ["features/", "kinds/", "words/", "view/", "session/", "ui/", "document/", "core/", "engine/", "storage/", "workers/client/"]),
    {
      name: "engine-types-only-on-the-screen",
      severity: "error",
      comment: "The computation stays in the worker; the screen knows only its types.",
      from: { path: "^src/(session|view|features|app|words|kinds/.*/(controls|words))" },
      to: { path: "^src/(engine|kernels|formats)/", dependencyTypesNot: ["type-only"] },
    },
    {
      name: "no-feature-imports-another",
      severity: "error",
      from: { path: "^src/features/([^/]+)/" },
      to: { path: "^src/features/", pathNot: "^src/features/$1/" },
    },
    { name: "no-node-in-the-browser", severity: "error", from: { path: "^src/", pathNot: "^src/cli/" }, to: { dependencyTypes: ["core"] } },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "src/kernels/assembly|\\.test\\.tsx?$" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    detectProcessBuiltinModuleCalls: false,
  },
};
