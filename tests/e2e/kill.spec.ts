/**
 * The browser is killed at random moments of gathering, registering, merging, painting, delivering and saving. Whatever the screen had shown as saved is
 * there afterwards, every stroke that had ended 300 ms before is there, and the job opens at once. How many kills: MARSH_KILLS.
 */
import { expect, test, type BrowserContext, type Page } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { join } from "node:path";
import { openBrowser, pageOf, quiet, stage, temporaryFolder } from "./support";

const KILLS = Number(process.env.MARSH_KILLS ?? 8);
const FILES = ["figure/figure-1.jpg", "figure/figure-2.jpg"].map((f) => `demo/${f}`);
const profile = join(temporaryFolder(), "profile");

let seed = Number(process.env.MARSH_SEED ?? 7);
const random = () => {
  seed = (seed * 1664525 + 1013904223) % 2 ** 32;
  return seed / 2 ** 32;
};

function kill(): void {
  const pids = execFileSync("pgrep", ["-f", "--", `--user-data-dir=${profile}`], { encoding: "utf8" })
    .trim()
    .split("\n");
  for (const pid of pids) {
    try {
      process.kill(Number(pid), "SIGKILL");
    } catch {
      // it went with its parent
    }
  }
}

/** Steps that the logbook holds, newest first. */
async function steps(page: Page): Promise<string[]> {
  await page.keyboard.press("l");
  const table = page.getByRole("grid", { name: "Steps" });
  await table.waitFor();
  const labels = await table.locator("tbody tr td:nth-child(2) b").allTextContents();
  await page.keyboard.press("Escape");
  await table.waitFor({ state: "hidden" });
  return labels;
}

/** What the screen says is saved: looked at until the kill. */
class Watch {
  saved = 0;
  private going = true;
  private readonly done: Promise<void>;

  constructor(private readonly page: Page) {
    this.done = this.look();
  }

  private async look(): Promise<void> {
    while (this.going) {
      const now = await this.page
        .evaluate(() => {
          const at = document.querySelector("[data-testid=saved]");
          const steps = /Logbook, (\d+) steps/.exec(at?.parentElement?.textContent ?? "");
          return { saved: at?.textContent?.startsWith("Saved") ?? false, steps: Number(steps?.[1] ?? 0) };
        })
        .catch(() => null);
      if (now?.saved) this.saved = Math.max(this.saved, now.steps);
      await new Promise((go) => setTimeout(go, 15));
    }
  }

  async end(): Promise<void> {
    this.going = false;
    await this.done;
  }
}

const ACTIONS: ((page: Page) => Promise<unknown>)[] = [
  async (page) => {
    await stage(page, "Gather");
    await page.locator('input[type="file"]').first().setInputFiles(FILES);
  },
  async (page) => {
    await stage(page, "Register");
    await page.keyboard.press("a");
    await page.getByRole("textbox", { name: "Action" }).fill("register the frames");
    await page.keyboard.press("Enter");
  },
  async (page) => {
    await stage(page, "Merge");
    await page.keyboard.press("a");
    await page.getByRole("textbox", { name: "Action" }).fill("merge as proposed");
    await page.keyboard.press("Enter");
  },
  async (page) => {
    await stage(page, "Hand over");
    await page.getByRole("button", { name: /^Write TIF/ }).click({ timeout: 1500 });
  },
  async (page) => {
    for (let i = 0; i < 4; i++) await page.keyboard.press("u");
    for (let i = 0; i < 4; i++) await page.keyboard.press("Shift+U");
  },
];

/** Strokes on a layer over the merge. @returns how many had ended 300 ms before */
async function paint(page: Page): Promise<number> {
  await stage(page, "Compose");
  const row = page.getByRole("row", { name: /Frame 2/ });
  if ((await row.count()) === 0) await page.getByRole("button", { name: "Frame 2" }).click({ timeout: 4000 });
  await page.waitForSelector("[data-exact]");
  const box = (await page.locator("[data-exact]").boundingBox())!;
  const n = 1 + Math.floor(random() * 3);
  for (let i = 0; i < n; i++) {
    const [x, y] = [box.x + box.width * (0.3 + 0.4 * random()), box.y + box.height * (0.3 + 0.4 * random())];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 30, y + 10, { steps: 3 });
    await page.mouse.up();
  }
  await page.waitForTimeout(300);
  return n;
}

const strokesOf = (labels: string[]) => labels.filter((l) => /stroke/.test(l)).length;

test(`${KILLS} kills`, async () => {
  test.setTimeout(60_000 + KILLS * 40_000);
  let context: BrowserContext = await openBrowser(profile);
  let page = await pageOf(context);
  await page.goto("http://localhost:3217/");
  await page.getByRole("button", { name: "New job" }).click();
  await page.waitForSelector("text=Bring the frames of one picture");
  await page.locator('input[type="file"]').first().setInputFiles(FILES);
  await expect(page.getByText(/, 2 frames/).first()).toBeVisible({ timeout: 60_000 });
  await quiet(page);
  await ACTIONS[1](page);
  await page.waitForSelector("table[aria-label=Registration]", { timeout: 60_000 });
  await ACTIONS[2](page);
  await expect(page.getByRole("heading", { name: "What each frame gives" })).toBeVisible({ timeout: 60_000 });
  let [strokes, slowest] = [0, 0];
  for (let k = 0; k < KILLS; k++) {
    const watch = new Watch(page);
    const painting = random() < 0.45;
    let painted = 0;
    if (painting) painted = await paint(page);
    else {
      void ACTIONS[Math.floor(random() * ACTIONS.length)](page).catch(() => undefined);
      await new Promise((go) => setTimeout(go, 100 + 2500 * random()));
    }
    const [known, address] = [watch.saved, page.url()];
    kill();
    await watch.end();
    await context.close().catch(() => undefined);
    context = await openBrowser(profile);
    page = await pageOf(context);
    const since = Date.now();
    await page.goto(address, { waitUntil: "commit" });
    await page.waitForSelector("[data-testid=saved]", { timeout: 20_000 });
    slowest = Math.max(slowest, Date.now() - since);
    const labels = await steps(page);
    expect(labels.length, `kill ${k}: steps the screen had shown as saved`).toBeGreaterThanOrEqual(known);
    expect(strokesOf(labels), `kill ${k}: strokes that had ended`).toBeGreaterThanOrEqual(strokes + painted);
    strokes = strokesOf(labels);
  }
  // eslint-disable-next-line no-console -- figures for the note
  console.log(`${KILLS} kills, ${strokes} strokes kept, the job opened within ${slowest} ms`);
  await context.close();
});
