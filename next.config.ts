import type { NextConfig } from "next";

/** Cross-origin isolation lets the kernels share their memory between threads. */
const ISOLATION = [
  { key: "Cross-Origin-Opener-Policy", value: "same-origin" },
  { key: "Cross-Origin-Embedder-Policy", value: "require-corp" },
  { key: "Cross-Origin-Resource-Policy", value: "same-origin" },
];

/**
 * Everything comes from here and nothing goes anywhere else: what is gathered stays in this browser. Pages begin with scripts of their own, and the
 * coders of pictures put functions together, so both are allowed; workers begin as blobs.
 */
const POLICY = [
  "default-src 'self'",
  "script-src 'self' 'unsafe-inline' 'unsafe-eval' blob:",
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' blob: data:",
  "connect-src 'self' blob: data:",
  "worker-src 'self' blob:",
  "object-src 'none'",
  "base-uri 'none'",
  "form-action 'none'",
  "frame-ancestors 'none'",
].join("; ");

const DOORS = [
  { key: "Content-Security-Policy", value: POLICY },
  { key: "X-Content-Type-Options", value: "nosniff" },
  { key: "Referrer-Policy", value: "no-referrer" },
  { key: "Permissions-Policy", value: "camera=(), microphone=(), geolocation=()" },
];

const config: NextConfig = {
  poweredByHeader: false,
  compiler: { styledComponents: true },
  // one static page serves every job: it reads its address itself
  rewrites: async () => [{ source: "/job/:path*", destination: "/" }],
  headers: async () => [{ source: "/:path*", headers: [...ISOLATION, ...DOORS] }],
  devIndicators: false,
  turbopack: { resolveAlias: { fs: { browser: "./src/formats/jpeg/noFileSystem.ts" }, path: { browser: "./src/formats/jpeg/noFileSystem.ts" } } },
};

export default config;
