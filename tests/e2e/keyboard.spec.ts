/** From files to delivery with a keyboard alone: everything on the way is reached by Tab and arrows, and says by name what it is. */
import { expect, test, type Page } from "@playwright/test";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { exact, openBrowser, pageOf, quiet, temporaryFolder } from "./support";

const FILES = [2, 3, 4].map((i) => `demo/doorway/doorway-${i}.jpg`);

/** What the focus is on, as a screen reader is told. */
const focused = (page: Page) =>
  page.evaluate(() => {
    const at = document.activeElement as HTMLElement | null;
    if (!at || at === document.body) return "";
    const label = at.getAttribute("aria-label") ?? (at as HTMLInputElement).labels?.[0]?.textContent ?? at.textContent ?? "";
    return label.replace(/\s+/g, " ").trim();
  });

/** Goes on by Tab until the focus is on something of that name. */
async function tabTo(page: Page, name: RegExp, key: "Tab" | "Shift+Tab" = "Tab"): Promise<void> {
  const passed: string[] = [];
  for (let i = 0; i < 150; i++) {
    await page.keyboard.press(key);
    const now = await focused(page);
    if (name.test(now)) return;
    passed.push(now);
  }
  throw new Error(`Tab leads to nothing called ${name}; it passed ${[...new Set(passed)].join(" | ")}`);
}

test("from files to delivery by keyboard alone", async () => {
  const folder = temporaryFolder();
  const context = await openBrowser(join(folder, "profile"));
  const page = await pageOf(context);
  // from the first on, for a dialog that opens before somebody listens is nobody's
  page.on("filechooser", (chooser) => void chooser.setFiles(FILES));
  await page.goto("http://localhost:3217/");
  await page.getByRole("button", { name: "New job" }).waitFor();
  await tabTo(page, /^New job$/);
  await page.keyboard.press("Enter");
  await page.waitForSelector("text=Bring the frames of one picture");
  await tabTo(page, /^Choose files$/);
  await page.keyboard.press("Enter");
  await expect(page.getByText(/Exposure bracket, 3 frames/)).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  // rows of the ledger by arrows, from the one that is chosen
  await tabTo(page, /^[123] ?1\/\d+ ?s/);
  const row = Number((await focused(page))[0]);
  await page.keyboard.press(row === 3 ? "ArrowUp" : "ArrowDown");
  await expect(page.getByRole("heading", { name: `Frame ${row === 3 ? 2 : row + 1}`, exact: true })).toBeVisible();

  // stages by their numbers
  await page.keyboard.press("3");
  await tabTo(page, /^Register 3 frames$/);
  await page.keyboard.press("Enter");
  await expect(page.getByText(/3 frames aligned, within 0\.\d\d px/)).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await page.keyboard.press("4");
  await tabTo(page, /^Merge 3 frames$/);
  await page.keyboard.press("Enter");
  await expect(page.getByText("Radiance merge in use")).toBeVisible({ timeout: 120_000 });
  await quiet(page);

  // the picture takes the focus: plus enlarges it, Enter reads it
  await tabTo(page, /^Merge.*Arrows move it/);
  await page.keyboard.press("Enter");
  await expect(page.locator("[aria-live=polite]").filter({ hasText: /scene [−+\d]/ })).toBeVisible();

  // a value is set by arrows, and taken back by the platform's own keys
  await page.keyboard.press("6");
  await exact(page);
  await tabTo(page, /^Exposure, EV$/);
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("Tab");
  const exposure = page.getByRole("textbox", { name: "Exposure, EV" });
  const set = await exposure.inputValue();
  expect(Number(set)).toBeGreaterThan(0);
  await page.keyboard.press("Control+z");
  await expect(exposure).not.toHaveValue(set);
  await page.keyboard.press("Control+Shift+z");
  await expect(exposure).toHaveValue(set);

  await page.keyboard.press("7");
  await expect(page.getByText(/open finding|Nothing open/)).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press("8");
  await exact(page);
  await tabTo(page, /^TIFF/);
  await page.keyboard.press("ArrowDown");
  await tabTo(page, /^Write \w+/);
  const name = await focused(page);
  const delivered = page.waitForEvent("download", { timeout: 120_000 });
  await page.keyboard.press("Enter");
  const path = join(folder, "out");
  await (await delivered).saveAs(path);
  expect(name).toBe("Write PNG");
  expect(readFileSync(path).length).toBeGreaterThan(100_000);
  await context.close();
});
