import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: "tests/e2e",
  timeout: 400_000,
  expect: { timeout: 30_000 },
  workers: 1,
  retries: 0,
  reporter: [["list"], ["json", { outputFile: "build/e2e.json" }]],
  use: {
    actionTimeout: 15_000,
    baseURL: "http://localhost:3217",
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
    },
  },
  webServer: { command: "npx next start -p 3217", url: "http://localhost:3217", reuseExistingServer: false, timeout: 60_000 },
});
