// The built application in a browser with a profile of its own, for benchmarks.
import { chromium } from "@playwright/test";
import { spawn } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

export const ADDRESS = "http://localhost:3218/";

export async function openBrowser() {
  const server = spawn("node", ["node_modules/next/dist/bin/next", "start", "-p", "3218"], { stdio: "ignore" });
  await new Promise((r) => setTimeout(r, 4000));
  const context = await chromium.launchPersistentContext(mkdtempSync(join(tmpdir(), "marsh-profile-")), {
    executablePath: "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
  });
  const close = async () => {
    await context.close();
    server.kill();
  };
  return { context, page: context.pages()[0] ?? (await context.newPage()), close };
}
