/** The whole path through the real interface in a persistent profile, with a kill and a restore on the way; other readers read the files back. */
import { expect, test, type BrowserContext, type Page } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { readFileSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { exact, noViolations, openBrowser, pageOf, pressed, quiet, stage, temporaryFolder } from "./support";

const folder = temporaryFolder();
const DEMO = [1, 2, 3, 4, 5].map((i) => `demo/doorway/doorway-${i}.jpg`);
const python = (script: string, ...args: string[]) => JSON.parse(execFileSync("/usr/bin/python3", ["-c", script, ...args], { encoding: "utf8" })) as unknown;

async function open(): Promise<{ context: BrowserContext; page: Page }> {
  const context = await openBrowser(join(folder, "profile"));
  return { context, page: await pageOf(context) };
}

async function download(page: Page, button: string, name: string): Promise<string> {
  const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name: button }).click()]);
  const path = join(folder, name);
  await file.saveAs(path);
  return path;
}

test("pages are framed by nobody, fetch from nowhere else and do not say what serves them", async ({ request }) => {
  const headers = (await request.get("/")).headers();
  expect(headers["content-security-policy"]).toContain("connect-src 'self' blob: data:");
  expect(headers["content-security-policy"]).toContain("frame-ancestors 'none'");
  expect(headers["x-content-type-options"]).toBe("nosniff");
  expect(headers["cross-origin-embedder-policy"]).toBe("require-corp");
  expect(headers["x-powered-by"]).toBeUndefined();
});

test("from files to delivery, through a crash", async () => {
  let { context, page } = await open();
  await page.goto("http://localhost:3217/");
  await page.getByRole("button", { name: "New job" }).waitFor();
  await noViolations(page, "jobs");
  await page.getByRole("button", { name: "New job" }).click();
  await page.waitForSelector("text=Bring the frames of one picture");
  await noViolations(page, "empty gather");

  // bad files come along with the good ones: a sentence each, the rest goes on
  writeFileSync(join(folder, "cut.jpg"), readFileSync(DEMO[1]).subarray(0, 90_000));
  await page
    .locator('input[type="file"]')
    .first()
    .setInputFiles([...DEMO, join(folder, "cut.jpg")]);
  await page.waitForSelector("text=Exposure bracket, 5 frames, step 2.0 EV as metered", { timeout: 120_000 });
  await quiet(page);
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.items.add(new File(["only words"], "words.tif"));
    document.querySelector("[data-ready]")!.dispatchEvent(new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true }));
  });
  await expect(
    page.getByText("words.tif: This is not a JPEG, PNG, TIFF, WebP, AVIF, OpenEXR, OpenRaster, Radiance, DNG or known camera raw picture."),
  ).toBeVisible();
  await expect(page.getByText("cut.jpg: The JPEG data is damaged or cut short and cannot be read.")).toBeVisible();
  await expect(page.getByText("Frame 4 is 0.1 EV brighter than its metadata says.")).toBeVisible();
  const dismiss = page.getByRole("button", { name: "Dismiss" });
  while ((await dismiss.count()) > 0) await dismiss.first().click();
  await exact(page);
  await noViolations(page, "gather");
  // the table goes by keyboard
  await page.getByRole("row", { name: /^3 / }).focus();
  await page.keyboard.press("ArrowDown");
  await expect(page.getByRole("heading", { name: "Frame 4", exact: true })).toBeVisible();

  await page.keyboard.press("3");
  const drawn = await watchTicks(page);
  await page.getByRole("button", { name: "Register 5 frames" }).click();
  await expect(page.getByText(/5 frames aligned, within 0\.\d\d px/)).toBeVisible({ timeout: 120_000 });
  const { ticks, beside } = await drawn();
  expect(ticks).toBeGreaterThan(5);
  expect(beside).toEqual([]);
  await exact(page);
  await noViolations(page, "register");

  await stage(page, "Merge");
  await page.getByRole("button", { name: "Merge 5 frames" }).click();
  await expect(page.getByText("Radiance merge in use")).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  // the bird of frame 3 is found and left out
  await expect(page.getByText("One place moved")).toBeVisible();
  await expect(page.getByRole("grid", { name: "Places that moved" }).getByRole("row").nth(1)).toContainText(/frame [12] ?as proposed/);
  await pressed(page, "Split").click();
  await exact(page);
  await noViolations(page, "merge");
  // whoever does not see it has its values read
  await page.getByRole("img", { name: /^Merge/ }).focus();
  await page.keyboard.press("Enter");
  await expect(page.locator("[aria-live=polite]").filter({ hasText: /scene [−+\d]/ })).toBeVisible();
  await expect(page.getByTestId("saved")).toContainText("Saved");

  // the browser is killed; the job is there again by its address, at the same stage, and by the list of jobs
  const address = page.url();
  expect(address).toMatch(/\/job\/[\w-]+\/merge$/);
  const browserPid = execFileSync("pgrep", ["-f", "--", `--user-data-dir=${join(folder, "profile")}`], { encoding: "utf8" }).split("\n")[0];
  process.kill(Number(browserPid), "SIGKILL");
  await context.close().catch(() => undefined);
  ({ context, page } = await open());
  await page.goto("http://localhost:3217/");
  await expect(page.getByRole("list", { name: "Jobs", exact: true }).getByRole("listitem")).toContainText("Exposure bracket, 5 frames · at Merge");
  await page.goto(address);
  await expect(page.getByText("Radiance merge in use")).toBeVisible();

  // a second tab on the same job may only look
  const second = await context.newPage();
  await second.goto(address);
  await expect(second.getByTestId("saved")).toContainText("open in another tab");
  await second.close();

  await stage(page, "Compose");
  await page.getByRole("button", { name: "Frame 4" }).click();
  await exact(page);
  const box = (await page.getByRole("img").boundingBox())!;
  const paint = async (points: [number, number][]) => {
    await page.mouse.move(box.x + points[0][0], box.y + points[0][1]);
    await page.mouse.down();
    for (const [x, y] of points.slice(1)) await page.mouse.move(box.x + x, box.y + y, { steps: 4 });
    await page.mouse.up();
  };
  await paint([
    [190, 300],
    [220, 330],
    [200, 350],
  ]);
  await expect(page.getByText(/Here frame \d is best|This frame is the best here/)).toBeVisible();
  await paint([
    [300, 420],
    [340, 460],
  ]);
  await expect(page.getByRole("row", { name: /Frame 4/ })).toContainText("2");
  await page.keyboard.press("u");
  await expect(page.getByRole("row", { name: /Frame 4/ })).toContainText("1");
  await page.keyboard.press("Shift+U");
  await expect(page.getByRole("row", { name: /Frame 4/ })).toContainText("2");
  await page.keyboard.press("m");
  await exact(page);
  await noViolations(page, "compose");
  for (let i = 0; i < 3; i++) await page.keyboard.press("m");

  await stage(page, "Finish");
  await exact(page);
  await page.getByRole("button", { name: "This is neutral" }).click();
  await page.mouse.click(box.x + 330, box.y + 440);
  await page.getByRole("button", { name: "Take both from the pin" }).click();
  await expect(page.getByText(/green to magenta .* Duv/)).toBeVisible();
  // a rendering is taken in one press, at a strength, and taken back in one
  await page.getByRole("button", { name: "Propose renderings" }).click();
  await expect(page.getByText(/^Its light spans \d/)).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await noViolations(page, "renderings proposed");
  await pressed(page, "Rich").click();
  await expect(page.getByRole("row", { name: /^Local tone compression|^Contrast about a pivot/ }).first()).toBeVisible();
  await expect(page.getByText("Structure kept")).toBeVisible();
  const far = page.getByRole("textbox", { name: "How far it goes, %" });
  await far.fill("50");
  await far.press("Enter");
  await expect(page.getByRole("row", { name: /^Chroma/ })).toContainText("108 %");
  await pressed(page, "As merged").click();
  await expect(page.getByRole("row", { name: /^Chroma/ })).toHaveCount(0);
  await exact(page);
  const exposure = page.getByRole("textbox", { name: "Exposure, EV" });
  await exposure.fill("0.7");
  await exposure.press("Enter");
  await page.getByRole("button", { name: "Draw", exact: true }).click();
  await exact(page);
  await paint([
    [120, 200],
    [400, 420],
  ]);
  await expect(page.getByText(/Crop drawn|turned 0\.00°/).first()).toBeVisible();
  await pressed(page, "3:2").click();
  await exact(page);
  await noViolations(page, "finish");

  await stage(page, "Proof");
  await expect(page.getByText(/open finding|Nothing open/)).toBeVisible({ timeout: 60_000 });
  await pressed(page, "Split").click();
  await exact(page);
  await noViolations(page, "proof");
  await page.getByRole("button", { name: "Accept", exact: true }).first().click();
  await page.getByRole("textbox", { name: "Reason" }).first().fill("wanted so");
  await page.getByRole("button", { name: "This one" }).first().click();
  await expect(page.getByText("Accepted", { exact: true })).toBeVisible({ timeout: 60_000 });

  await stage(page, "Hand over");
  await exact(page);
  await noViolations(page, "hand over");
  const tiff = await download(page, "Write TIF", "out.tif");
  await quiet(page);
  await page.getByRole("row", { name: /JPEG/ }).click();
  // a system that takes JPEG files to its share sheet
  await page.evaluate(() => {
    const taken: [string, string, number][] = [];
    const take = async ({ files }: { files: File[] }) => void taken.push(...files.map((f): [string, string, number] => [f.name, f.type, f.size]));
    Object.assign(navigator, { canShare: ({ files }: { files: File[] }) => files.every((f) => f.type === "image/jpeg"), share: take });
    Object.assign(window, { taken });
  });
  const jpeg = await download(page, "Write JPG", "out.jpg");
  await page.getByRole("button", { name: "Share", exact: true }).click();
  const taken = () => page.evaluate(() => (window as unknown as { taken: [string, string, number][] }).taken);
  expect(await taken()).toEqual([[expect.stringMatching(/\.jpg$/), "image/jpeg", statSync(jpeg).size]]);
  await quiet(page);
  await page.getByRole("row", { name: /Radiance HDR/ }).click();
  const hdr = await download(page, "Write HDR", "out.hdr");
  await quiet(page);
  const job = await download(page, "Save job file", "out.marsh");
  await expect(page.getByText(/Last copy outside the browser: \d\d:\d\d/).first()).toBeVisible();

  await page.keyboard.press("l");
  await expect(page.getByRole("heading", { name: /Logbook/ })).toBeVisible();
  await noViolations(page, "logbook");
  await page.keyboard.press("Escape");
  await stage(page, "Plan");
  await noViolations(page, "plan");

  // other readers
  const facts = python(
    `import json, sys, tifffile, numpy as np, io, cv2
from PIL import Image, ImageCms
t = tifffile.imread(sys.argv[1]); j = Image.open(sys.argv[2]); h = cv2.imread(sys.argv[3], -1)
name = ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(j.info['icc_profile']))).strip()
d = np.abs(np.asarray(j).astype(float) - t / 257.0)
with tifffile.TiffFile(sys.argv[1]) as f: tags = {k: str(f.pages[0].tags[k].value) for k in ('Make', 'Copyright')}
print(json.dumps({'tiff': [list(t.shape), str(t.dtype)], 'jpeg': [j.size[0], j.size[1], j.layer[1][1]], 'profile': name, 'near': float(d.mean()), 'hdr': [list(h.shape), bool(h.max() > 4)], 'tags': tags}))`,
    tiff,
    jpeg,
    hdr,
  ) as { tiff: [number[], string]; jpeg: number[]; profile: string; near: number; hdr: [number[], boolean]; tags: Record<string, string> };
  const [height, width] = facts.tiff[0];
  expect(Math.abs(width / height - 1.5)).toBeLessThan(0.002);
  expect(facts).toMatchObject({ tiff: [[height, width, 3], "uint16"], jpeg: [width, height, 1], profile: "sRGB", hdr: [[height, width, 3], true] });
  expect(facts.tags).toEqual({ Make: "Sedge", Copyright: "Wrenfold Marsh reserve" });
  expect(facts.near).toBeLessThan(1.5);

  // the command line gives the same samples from the job file
  execFileSync("scripts/marsh", ["render", job, "-o", join(folder, "cli.tif"), "--quiet"]);
  expect(
    python(
      "import json, sys, tifffile; print(json.dumps(int((tifffile.imread(sys.argv[1]) != tifffile.imread(sys.argv[2])).sum())))",
      tiff,
      join(folder, "cli.tif"),
    ),
  ).toBe(0);

  // the job file opens as a job of its own beside the one that is there
  await stage(page, "Hand over");
  await page.locator('input[type="file"]').first().setInputFiles(job);
  await expect(page.getByText("Bracket, 5 frames").first()).toBeVisible({ timeout: 60_000 });
  writeFileSync(join(folder, "newer.marsh"), "this is no job");
  await stage(page, "Hand over");
  await page.locator('input[type="file"]').first().setInputFiles(join(folder, "newer.marsh"));
  await expect(page.getByText(/job file is damaged or cut short/)).toBeVisible();

  // a job that is removed takes its intermediate pictures along, and leaves those of another
  const rasters = () =>
    page.evaluate(async () => {
      const folder = (await (await navigator.storage.getDirectory()).getDirectoryHandle("rasters-tiled")) as FileSystemDirectoryHandle & {
        keys(): AsyncIterable<string>;
      };
      let count = 0;
      for await (const name of folder.keys()) count += name ? 1 : 0;
      return count;
    });
  expect(await rasters()).toBeGreaterThan(10);
  await page.getByRole("button", { name: "Marsh, all jobs" }).click();
  // one that is removed can be taken back until it goes for good
  const more = (n: number, what: string) =>
    page
      .getByRole("button", { name: /^More for / })
      .nth(n)
      .click()
      .then(() => page.getByRole("menuitem", { name: what }).click());
  const jobs = page.getByRole("list", { name: "Jobs", exact: true }).getByRole("listitem");
  await more(0, "Remove");
  await page.getByRole("button", { name: "Take back" }).click();
  await expect(jobs).toHaveCount(2);
  await noViolations(page, "jobs");
  await more(0, "Remove");
  await page.getByRole("button", { name: "Remove for good" }).click();
  await expect(jobs).toHaveCount(1);
  expect(await rasters()).toBeGreaterThan(10);
  await page.getByRole("button", { name: "Open", exact: true }).first().click();
  await exact(page);
  await page.getByRole("button", { name: "Marsh, all jobs" }).click();
  await more(0, "Remove");
  await page.getByRole("button", { name: "Remove for good" }).click();
  await expect.poll(rasters).toBe(0);
  await context.close();
});

/** Watches what is drawn together with the line of progress: its ticks, and what else of the page changed with one. */
async function watchTicks(page: Page): Promise<() => Promise<{ ticks: number; beside: string[] }>> {
  await page.evaluate(() => {
    const told = { ticks: 0, beside: [] as string[] };
    const elementOf = (node: Node) => (node instanceof Element ? node : node.parentElement);
    const inLine = ({ target, type }: MutationRecord) => type !== "childList" && elementOf(target)?.closest("[role=status]:has(button)");
    new MutationObserver((changes) => {
      if (!changes.some(inLine)) return;
      told.ticks++;
      told.beside.push(...changes.filter((c) => !inLine(c)).map((c) => elementOf(c.target)?.outerHTML.slice(0, 120) ?? ""));
    }).observe(document.body, { subtree: true, childList: true, characterData: true, attributes: true });
    Object.assign(window, { told });
  });
  return () => page.evaluate(() => (window as unknown as { told: { ticks: number; beside: string[] } }).told);
}
