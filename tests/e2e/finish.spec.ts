/** Finishing and printing through the real interface: the camera turned by lines, less and more of a step, before and after, and the picture as a paper shows it. */
import { expect, test, type BrowserContext } from "@playwright/test";
import { join } from "node:path";
import { dragOn, exact, noViolations, openBrowser, pageOf, pick, quiet, stage, temporaryFolder, tool } from "./support";

const folder = temporaryFolder();
let context: BrowserContext;

test.beforeEach(async ({}, info) => {
  context = await openBrowser(join(folder, String(info.line)));
});
test.afterEach(() => context.close());

test("lines make a picture upright at a told cost, a step is taken a little less, and a paper's black is opened", async () => {
  const page = await pageOf(context);
  await page.goto("http://localhost:3217/?demo=haze");
  await expect(page.getByText(/, 1 frame/).first()).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await stage(page, "Register");
  await tool(page, "Use it as the picture");
  await expect(page.getByRole("button", { name: "Go to Finish" })).toBeVisible();
  await stage(page, "Finish");
  await exact(page);
  await tool(page, "Propose renderings");
  await page.getByText("Rich", { exact: true }).click({ timeout: 120_000 });
  await exact(page);

  // less of a step, chosen by eye
  await pick(page, "Of the step", "Contrast about a pivot");
  const variants = page.getByRole("group", { name: "A little less, a little more" });
  await variants.getByRole("button", { name: "50 %", exact: true }).click();
  await expect(page.getByRole("table", { name: "Steps" })).toContainText("contrast 1.08 ×");
  await noViolations(page, "variants of a step");

  // before and after
  for (const view of ["Split", "Side by side", "Before"]) {
    await tool(page, view);
    await exact(page);
  }
  await noViolations(page, "beside what was merged");
  await pick(page, "Against", "Without Chroma");
  await exact(page);
  await tool(page, "Finished");

  // two lines that ought to be upright, which converge
  await tool(page, "Draw a line");
  const size: [number, number] = [1800, 1200];
  await dragOn(page, size, [300, 1000], [340, 200]);
  await expect(page.getByRole("table", { name: "Lines" })).toContainText("1 upright");
  const turned = await page.getByRole("textbox", { name: "Rotation, °" }).inputValue();
  expect(Math.abs(Number(turned.replace("−", "-")))).toBeGreaterThan(2);
  await exact(page);
  await dragOn(page, size, [1500, 200], [1500, 1000]);
  await expect(page.getByRole("table", { name: "Lines" })).toContainText("2 upright");
  await expect(page.getByRole("textbox", { name: "Looked up, °" })).not.toHaveValue(/^0.00/);
  await expect(page.getByText(/of the field is kept; px are drawn apart/)).toBeVisible();
  await expect(page.getByText(/^Of the most, 3:2 /)).toBeVisible();
  await noViolations(page, "lines that are upright");
  await tool(page, "Draw a line");
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("textbox", { name: "Rotation, °" })).toHaveValue(/^[+−]?0.00/);

  // as a paper shows it
  await stage(page, "Proof");
  await quiet(page);
  await tool(page, "Wrenfold Matte Rag");
  await expect(page.getByText("Darkest ink", { exact: true })).toBeVisible({ timeout: 60_000 });
  await quiet(page);
  await tool(page, "Out of gamut");
  await exact(page);
  await expect(page.getByRole("radio", { name: "As printed" }).first()).toBeChecked();
  await noViolations(page, "as a paper shows it");
  await tool(page, "Black to its black");
  await expect(page.getByText(/^First tone/).locator("xpath=following-sibling::dd[1]")).not.toHaveText("1", { timeout: 60_000 });
  await page.getByRole("button", { name: "A profile from a file" }).click();
  await page
    .locator("input[type=file]")
    .last()
    .setInputFiles({ name: "notes.icc", mimeType: "application/octet-stream", buffer: Buffer.from("no profile".repeat(40)) });
  await expect(page.getByText("This file is no colour profile.")).toBeVisible();
  // it comes with the job
  await page.reload();
  await expect(page.getByText("Darkest ink", { exact: true })).toBeVisible({ timeout: 60_000 });
});
