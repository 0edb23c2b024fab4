import type { NextConfig } from "next";

/** Cross-origin isolation lets the kernels share their memory between threads. */
const ISOLATION = [
  { key: "Cross-Origin-Opener-Policy", value: "same-origin" },
  { key: "Cross-Origin-Embedder-Policy", value: "require-corp" },
  { key: "Cross-Origin-Resource-Policy", value: "same-origin" },
];

const config: NextConfig = {
  compiler: { styledComponents: true },
  headers: async () => [{ source: "/:path*", headers: ISOLATION }],
  devIndicators: false,
  turbopack: { resolveAlias: { fs: { browser: "./src/formats/jpeg/noFileSystem.ts" }, path: { browser: "./src/formats/jpeg/noFileSystem.ts" } } },
};

export default config;
