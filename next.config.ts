import type { NextConfig } from "next";

/** Cross-origin isolation lets the kernels share their memory between threads. */
const ISOLATION = [
  { key: "Cross-Origin-Opener-Policy", value: "same-origin" },
  { key: "Cross-Origin-Embedder-Policy", value: "require-corp" },
  { key: "Cross-Origin-Resource-Policy", value: "same-origin" },
];

/**
 * Everything comes from here and nothing goes anywhere else: what is gathered stays in this browser. The scripts and styles in pages are named by their hashes once the
 * pages are made (scripts/finish-build.mjs).
 */
const policy = (scripts: string, styles: string) =>
  [
    "default-src 'self'",
    `script-src 'self' ${scripts}`,
    `style-src 'self' ${styles}`,
    "img-src 'self' blob: data:",
    "connect-src 'self' blob: data:",
    "worker-src 'self'",
    "manifest-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join("; ");
/** While it is worked on, pages and their parts change all the time. */
const IN_PAGES = (
  process.env.NODE_ENV === "development"
    ? ["'unsafe-inline' 'unsafe-eval'", "'unsafe-inline'"]
    : ["'inline-scripts-by-hash' 'wasm-unsafe-eval'", "'inline-styles-by-hash'"]
) as [string, string];
/** The decoder of camera raw puts functions together, so workers, which have no page, may. */
const IN_WORKERS: [string, string] = ["'wasm-unsafe-eval' 'unsafe-eval'", ""];

const doors = (...inline: [scripts: string, styles: string]) => [
  { key: "Content-Security-Policy", value: policy(...inline) },
  { key: "X-Content-Type-Options", value: "nosniff" },
  { key: "Referrer-Policy", value: "no-referrer" },
  { key: "Permissions-Policy", value: "camera=(), microphone=(), geolocation=()" },
];

const config: NextConfig = {
  poweredByHeader: false,
  compiler: { styledComponents: true },
  // one static page serves every job: it reads its address itself
  rewrites: async () => [{ source: "/job/:path*", destination: "/" }],
  headers: async () => [
    { source: "/:path*", headers: [...ISOLATION, ...doors(...IN_PAGES)] },
    { source: "/_next/static/:path*", headers: doors(...IN_WORKERS) },
  ],
  devIndicators: false,
  turbopack: { resolveAlias: { fs: { browser: "./src/formats/jpeg/noFileSystem.ts" }, path: { browser: "./src/formats/jpeg/noFileSystem.ts" } } },
};

export default config;
