import { chromium } from "@playwright/test";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
export const size = { width: Number(process.env.W ?? 1280), height: Number(process.env.H ?? 800) };
export const context = await chromium.launchPersistentContext(mkdtempSync(join(tmpdir(), "marsh-shots-")), {
  executablePath: "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
  viewport: size,
});
export const page = context.pages()[0];
page.on("pageerror", (e) => console.log("PAGEERROR", e.message));
context.setDefaultTimeout(120_000);
export const settle = async () => { await page.waitForTimeout(500); await page.waitForSelector("[data-exact=true]"); await page.waitForTimeout(300); };
export const shot = async (name, wait = true) => { if (wait) await settle(); await page.screenshot({ path: `/tmp/shots/${name}.png` }); console.log("shot", name); };
export const quiet = () => page.waitForFunction(() => ![...document.querySelectorAll("button")].some((b) => b.textContent === "Stop"));
export const named = (name) => page.getByRole("radio", { name, exact: true }).or(page.getByRole("button", { name, exact: true })).first();
export const press = (name) => named(name).click();
export const stage = (name) => page.getByRole("button", { name: new RegExp(`^${name}:`) }).click();
export const demo = async (id) => { await page.goto(`http://localhost:3300/?demo=${id}`); await page.getByText(/, \d+ frames?|\d+ sets/).first().waitFor(); await page.waitForTimeout(1500); await quiet(); };
export const merged = async (id, frames) => { await demo(id); await stage("Register"); await press(`Register ${frames} frames`); await page.waitForSelector("table[aria-label=Registration]"); await quiet(); await stage("Merge"); await press(`Merge ${frames} frames`); await page.getByRole("heading", { name: "What each frame gives" }).waitFor(); await quiet(); };
export const fill = async (name, value) => { const f = page.getByRole("textbox", { name }); await f.fill(value); await f.press("Enter"); };
export const picture = async () => page.locator("[data-exact]").first().boundingBox();
