/** What the journeys share: a browser profile of their own, the way around the screen, and the check for accessibility. */
import { AxeBuilder } from "@axe-core/playwright";
import { chromium, expect, test, type BrowserContext, type Page } from "@playwright/test";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import config from "../../playwright.config";

/** A journey that others by day nearly cover: at night only (scripts/night). */
export const nightly = process.env.MARSH_NIGHT ? test : test.skip;

export const temporaryFolder = () => mkdtempSync(join(tmpdir(), "marsh-e2e-"));

export const openBrowser = (profile: string): Promise<BrowserContext> =>
  chromium.launchPersistentContext(profile, { ...config.use!.launchOptions, viewport: { width: 1280, height: 800 }, acceptDownloads: true });

/** The page of a browser; an error that nobody catches fails the test. */
export async function pageOf(context: BrowserContext): Promise<Page> {
  const page = context.pages()[0] ?? (await context.newPage());
  page.on("pageerror", (error) => {
    throw error;
  });
  page.on("console", (message) => {
    if (/Content Security Policy/.test(message.text())) throw new Error(message.text());
  });
  return page;
}

export const exact = (page: Page) => page.waitForSelector("[data-exact=true]");
export const quiet = (page: Page) => expect(page.getByRole("button", { name: "Stop", exact: true })).toHaveCount(0, { timeout: 120_000 });
/** What is pressed by its name: a button, or one of several choices. */
export const pressed = (page: Page, name: string | RegExp, exact = typeof name === "string") =>
  page.getByRole("button", { name, exact }).or(page.getByRole("radio", { name, exact }));

/** Takes one of a list that opens. */
export async function pick(page: Page, label: string, option: string): Promise<void> {
  await page
    .getByRole("button", { name: new RegExp(`(^|\\s)${label}$`) })
    .first()
    .click();
  await page.getByRole("option", { name: option, exact: true }).click();
}

export const stage = (page: Page, name: string) => page.getByRole("button", { name: new RegExp(`^${name}:`) }).click();

export async function noViolations(page: Page, where: string): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect.soft(violations.map((v) => `${where}: ${v.id} ${v.nodes[0]?.html.slice(0, 120)}`)).toEqual([]);
}

/** Screen px of a place of the reference while the whole picture is shown in a pane. */
export async function placeOf(page: Page, size: [number, number], x: number, y: number, pane?: 0 | 1): Promise<[number, number]> {
  const box = (await page.locator("[data-exact]").boundingBox())!;
  const width = pane === undefined ? box.width : Math.floor(box.width / 2);
  const scale = Math.min((width - 6) / size[0], (box.height - 6) / size[1]);
  return [box.x + (pane ?? 0) * width + width / 2 + (x + 0.5 - size[0] / 2) * scale, box.y + box.height / 2 + (y + 0.5 - size[1] / 2) * scale];
}

/** A demo job with its frames registered and merged. */
export async function openMerge(context: BrowserContext, demo: string, frames: number): Promise<Page> {
  const page = await pageOf(context);
  await page.goto(`http://localhost:3217/?demo=${demo}`);
  await expect(page.getByText(new RegExp(`, ${frames} frames`)).first()).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await stage(page, "Register");
  await page.getByRole("button", { name: `Register ${frames} frames` }).click();
  await page.waitForSelector("table[aria-label=Registration]", { timeout: 240_000 });
  await quiet(page);
  await stage(page, "Merge");
  await page.getByRole("button", { name: `Merge ${frames} frames` }).click();
  await expect(page.getByRole("heading", { name: "What each frame gives" })).toBeVisible({ timeout: 240_000 });
  await quiet(page);
  return page;
}

/** Drags over a picture through places of it, px. */
export async function dragOn(page: Page, size: [number, number], ...places: [number, number][]): Promise<void> {
  const at = await Promise.all(places.map(([x, y]) => placeOf(page, size, x, y)));
  await page.mouse.move(...at[0]);
  await page.mouse.down();
  for (const p of at.slice(1)) await page.mouse.move(...p, { steps: 6 });
  await page.mouse.up();
}

/** Presses one of several choices, or a button. */
export const tool = (page: Page, name: string) =>
  page
    .getByRole("radio", { name, exact: true })
    .or(page.getByRole("button", { name, exact: true }))
    .first()
    .click();

/** The walk, with the heron's own picture laid on it to be cut out. */
export async function openWalk(context: BrowserContext): Promise<Page> {
  const page = await pageOf(context);
  await page.goto("http://localhost:3217/?demo=heron");
  await expect(page.getByRole("heading", { name: "2 sets" })).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await page.getByRole("button", { name: "Work on this set" }).click();
  await stage(page, "Register");
  await page.getByRole("button", { name: "Use it as the picture" }).click();
  await page.getByRole("button", { name: "Cut out" }).click();
  await page.getByRole("menuitem", { name: /Frame 2/ }).click();
  await exact(page);
  return page;
}

/** The heron cut out by a clean plate over the walk, in the room where things are seated. */
export async function openSeat(context: BrowserContext): Promise<Page> {
  const page = await openWalk(context);
  await page.getByText("A clean plate", { exact: true }).click();
  await page.getByRole("button", { name: /The same view without it/ }).click();
  await page.getByRole("option", { name: "Frame 3" }).click();
  await expect(page.getByRole("heading", { name: "What was cut" })).toBeVisible({ timeout: 60_000 });
  await quiet(page);
  await page.getByRole("button", { name: "Seat in the plate" }).click();
  await exact(page);
  return page;
}

/** From a plate with a thing by itself beside it to Compose: the thing shows nothing of the plate, and is left out of the merge. */
export async function mergePlateAlone(page: Page): Promise<void> {
  await quiet(page);
  await stage(page, "Register");
  await page.getByRole("button", { name: "Register 2 frames" }).click();
  await quiet(page);
  await page.getByRole("button", { name: "Go to Merge" }).click();
  await page.getByRole("button", { name: /^Merge \d frame/ }).click();
  await expect(page.getByRole("button", { name: /^Merge: not begun/ })).toHaveCount(0, { timeout: 60_000 });
  await quiet(page);
  await stage(page, "Compose");
}
