/** Matching through the real interface: last year's look taken, judged in mono, a neutral mended where it is. */
import { expect, test, type BrowserContext } from "@playwright/test";
import { join } from "node:path";
import { exact, noViolations, openBrowser, openMerge, pageOf, quiet, stage, temporaryFolder, tool } from "./support";

const folder = temporaryFolder();
let context: BrowserContext;

test.beforeEach(async ({}, info) => {
  context = await openBrowser(join(folder, String(info.line)));
});
test.afterEach(() => context.close());

test("this year's bracket takes last year's look, at a strength; a neutral that goes off is named, mended, and undone", async () => {
  const page = await openMerge(context, "septembers", 3);
  await stage(page, "Finish");
  await exact(page);
  await tool(page, "Compare");
  await expect(page.getByText(/Both show the same view/)).toBeVisible({ timeout: 120_000 });
  await expect(page.getByRole("img", { name: /Lightness of both pictures/ })).toBeVisible();
  await tool(page, "Chroma");
  await expect(page.getByRole("table", { name: "The look of another picture" })).toContainText("Dark");
  await noViolations(page, "compared with a reference");
  await tool(page, "Take this look");
  const look = page.getByRole("row", { name: /^Look of septembers-4/ });
  await expect(look).toContainText("group of 5");
  await exact(page);
  const far = page.getByRole("textbox", { name: "How far it goes, %" });
  await far.fill("80");
  await far.press("Enter");
  // what was compared still holds: the look is no part of it
  await expect(page.getByRole("button", { name: "Take this look instead" })).toBeEnabled();

  await tool(page, "Reference");
  await expect(page.getByRole("img", { name: "Reference" })).toBeVisible();
  await exact(page);
  await tool(page, "Side by side");
  await exact(page);
  await tool(page, "Finished");
  await exact(page);
  await page.getByRole("img", { name: "Finished picture" }).focus();
  await page.keyboard.press("y");
  await expect(page.getByRole("button", { name: "How it is shown for judging" })).toHaveText(/In mono/);
  await page.keyboard.press("y");
  await page.getByRole("button", { name: "How it is shown for judging" }).click();
  await page.getByRole("menuitem", { name: /^Light in steps/ }).click();
  await expect(page.getByRole("note", { name: "Light under white, by colour" })).toBeVisible();
  await noViolations(page, "light in steps");
  await page.getByRole("button", { name: "How it is shown for judging" }).click();
  await page.getByRole("menuitem", { name: /^In colour/ }).click();

  await tool(page, "This is neutral");
  const box = (await page.locator("[data-exact]").first().boundingBox())!;
  await page.mouse.click(box.x + 0.36 * box.width, box.y + 0.5 * box.height);
  const pin = page.getByRole("row", { name: /^1 Neutral/ });
  await expect(pin).toContainText(/Reads ΔE \d/, { timeout: 60_000 });
  await tool(page, "Mend it here");
  await expect(pin).toContainText(/of the picture hangs together there/, { timeout: 60_000 });
  await quiet(page);
  await pin.getByRole("button", { name: /^White balance: / }).click();
  await expect(page.getByRole("row", { name: /^Mended at pins/ })).toBeVisible();
  await expect(pin).toContainText("within what it may", { timeout: 60_000 });
  await noViolations(page, "a neutral that was mended");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("row", { name: /^Mended at pins/ })).toHaveCount(0);
  await expect(pin).toContainText(/Reads ΔE \d/, { timeout: 60_000 });

  // places that ought to look alike, marked on both pictures in either order
  await tool(page, "Marked pairs");
  await tool(page, "Mark pairs");
  await exact(page);
  const both = (await page.locator("[data-exact]").first().boundingBox())!;
  const on = (pane: 0 | 1, u: number, v: number) =>
    page.mouse.click(both.x + (0.5 * pane + 0.25) * both.width + u * both.width, both.y + (0.5 + v) * both.height);
  await on(0, -0.1, -0.1);
  await on(1, -0.1, -0.1);
  await on(1, 0.05, 0.12);
  await on(0, 0.05, 0.12);
  await expect(page.getByRole("row", { name: /^3 Pair/ })).toContainText("Ought to look as septembers-4.jpg does");
  await noViolations(page, "pairs marked");
  await tool(page, "Mark pairs");
  await tool(page, "Compare again");
  await expect(page.getByText(/^Pair 2 is left ΔE/)).toBeVisible({ timeout: 60_000 });
  await tool(page, "Take this look instead");
  await expect(page.getByRole("row", { name: /^Look of septembers-4/ })).toBeVisible();
});

test("a series is evened to one of its frames by how the others are developed, with what each lacked", async () => {
  const page = await pageOf(context);
  await page.goto("http://localhost:3217/?demo=figure");
  await expect(page.getByText(/, 2 frames/).first()).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  // the second was exposed and balanced otherwise
  await tool(page, "Frame 2");
  for (const [name, value] of [
    ["Exposure, EV", "0.8"],
    ["Warmth, mired", "40"],
  ]) {
    const field = page.getByRole("textbox", { name });
    await field.fill(value);
    await field.press("Enter");
  }
  await tool(page, "Frame 1");
  await tool(page, "Compare with this frame");
  const table = page.getByRole("table", { name: "Even a series" });
  await expect(table).toBeVisible({ timeout: 120_000 });
  // both were shot alike
  const row = table.getByRole("row").filter({ has: page.getByRole("rowheader", { name: "2", exact: true }) });
  await expect(row).toContainText(/\d\.\d → \d\.\d/);
  await noViolations(page, "a series compared");
  await quiet(page);
  await tool(page, "Develop them so");
  await expect(page.getByText("Something was changed since it was compared.")).toBeVisible();
  await tool(page, "Frame 2");
  const exposure = page.getByRole("textbox", { name: "Exposure, EV" });
  await expect.poll(async () => Math.abs(Number((await exposure.inputValue()).replace("−", "-")))).toBeLessThan(0.3);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(exposure).toHaveValue(/0\.80/);
});

test("a plate's haze is measured, made surer by a marked distance, and taken away", async () => {
  const page = await pageOf(context);
  await page.goto("http://localhost:3217/?demo=haze");
  await expect(page.getByText(/, 1 frame/).first()).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await stage(page, "Register");
  await tool(page, "Use it as the picture");
  await tool(page, "Seat in the plate");
  await exact(page);
  await expect(page.getByText("Haze is told by distance: first say where the horizon runs.")).toBeVisible();
  for (const [name, value] of [
    ["Camera looks up, °", "-2.03"],
    ["Camera height, m", "2.9"],
  ]) {
    const field = page.getByRole("textbox", { name });
    await field.fill(value);
    await field.press("Enter");
  }
  await tool(page, "Measure the haze");
  await expect(page.getByText("One sees as far as")).toBeVisible({ timeout: 60_000 });
  await noViolations(page, "haze measured");
  await quiet(page);
  await tool(page, "Mark a distance");
  const box = (await page.locator("[data-exact]").first().boundingBox())!;
  await page.mouse.click(box.x + 0.3 * box.width, box.y + 0.5 * box.height);
  const place = page.getByRole("textbox", { name: "Place 1, m" });
  await place.fill("25");
  await place.press("Enter");
  await tool(page, "Measure again");
  await quiet(page);
  await tool(page, "Take the haze away");
  await tool(page, "To the haze taken away");
  await expect(page.getByRole("row", { name: /^Haze taken away/ })).toBeVisible();
  await exact(page);
  await noViolations(page, "haze taken away");
});
