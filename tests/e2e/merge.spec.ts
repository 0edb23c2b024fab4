/** Merging with a person in it: who is taken where something moved, a lamp stand removed by a clean plate, a focus merge retouched by hand. */
import { expect, test, type BrowserContext, type Page } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { join } from "node:path";
import { exact, nightly, noViolations, openBrowser, openMerge, pick, placeOf, pressed, quiet, stage, temporaryFolder } from "./support";

const folder = temporaryFolder();
let context: BrowserContext;

test.beforeEach(async ({}, info) => {
  context = await openBrowser(join(folder, String(info.line)));
});
test.afterEach(() => context.close());

const places = (page: Page) => page.getByRole("grid", { name: "Places that moved" }).getByRole("row");
const inFrames = (page: Page) => page.getByRole("group", { name: /^Place \d+ in each frame/ });
const readout = (page: Page) => page.locator("span", { hasText: /^sRGB/ });

test("the frame taken where something moved is changed with a click, and the threshold says what it would take", async () => {
  const page = await openMerge(context, "doorway", 5);
  await expect(page.getByText("Radiance merge in use")).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await places(page).nth(1).click();
  await expect(places(page).nth(1)).toContainText("frame 2");
  await exact(page);
  // over the bird's body: sky without it, dark with it
  const over = await placeOf(page, [2496, 1664], 1150, 276);
  await page.mouse.move(...over);
  await expect(readout(page)).toBeVisible();
  const green = async () => Number((await readout(page).innerText()).split(" ")[3]);
  const sky = await green();
  await inFrames(page).getByRole("button", { name: "frame 3" }).click();
  await expect(places(page).nth(1)).toContainText(/frame 3 ?chosen/);
  await page.mouse.move(over[0] + 1, over[1]);
  await expect.poll(green).toBeLessThan(sky - 30);
  await noViolations(page, "merge with a place chosen");
  await page.keyboard.press("Control+z");
  await expect(places(page).nth(1)).toContainText("frame 2");

  const threshold = page.getByRole("textbox", { name: /^Threshold/ });
  await threshold.fill("28");
  await threshold.press("Enter");
  await expect(page.getByText("Nothing moved")).toBeVisible({ timeout: 60_000 });

  const lateral = page.getByRole("button", { name: "Undo it in every frame" });
  await lateral.click();
  await expect(lateral).toHaveAttribute("aria-pressed", "true", { timeout: 60_000 });
  await exact(page);
  await page.keyboard.press("Control+z");
  await expect(lateral).toHaveAttribute("aria-pressed", "false");

  await pressed(page, "Source frames").click();
  await exact(page);
  await page.mouse.move(...(await placeOf(page, [2496, 1664], 1150, 700)));
  await expect(page.locator("span", { hasText: /^frame \d/ }).first()).toBeVisible();
});

nightly("a lamp stand is taken out by the frame without it, its light stays, and what is left shows under a lift", async () => {
  const page = await openMerge(context, "jetty", 3);
  await page.getByRole("row", { name: /One frame as base/ }).click();
  await expect(page.getByText("One frame as base in use")).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await pick(page, "Base", "frame 1");
  await quiet(page);
  await exact(page);
  await expect(places(page).nth(1)).toContainText("undecided");
  // head, pole and both legs, found by pointing at them in the picture
  const size: [number, number] = [1500, 1000];
  for (const [x, y] of [
    [620, 255],
    [624, 500],
    [735, 760],
  ]) {
    await page.mouse.click(...(await placeOf(page, size, x, y)));
    await inFrames(page).getByRole("button", { name: "frame 2" }).click();
    await quiet(page);
  }
  // the foot of the left leg, painted over
  await page.getByRole("group", { name: "Paint a place from" }).getByRole("button", { name: "Frame 2" }).click();
  const brush = page.getByRole("textbox", { name: "Brush size, px" });
  await brush.fill("60");
  await brush.press("Enter");
  await page.mouse.move(...(await placeOf(page, size, 520, 790)));
  await page.mouse.down();
  await page.mouse.move(...(await placeOf(page, size, 600, 660)), { steps: 5 });
  await page.mouse.up();
  await expect(places(page).last()).toContainText("painted");
  await quiet(page);
  await pressed(page, "+4 EV").click();
  await exact(page);
  await noViolations(page, "merge lifted");

  await stage(page, "Hand over");
  const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name: "Write TIF" }).click()]);
  const path = join(folder, "jetty.tif");
  await file.saveAs(path);
  const facts = JSON.parse(
    execFileSync(
      "/usr/bin/python3",
      [
        "-c",
        `
import cv2, json, sys, numpy as np
got = cv2.imread(sys.argv[1], -1).astype(float) / 257
lamp, clean, mask = [cv2.imread('demo/jetty/' + f).astype(float) for f in ('jetty-1.jpg', 'jetty-2.jpg', 'changed.png')]
h, w = got.shape[:2]
found = cv2.matchTemplate(cv2.GaussianBlur(clean, None, 2).astype(np.float32), cv2.GaussianBlur(got, None, 2).astype(np.float32)[:, :], cv2.TM_SQDIFF)
_, _, (x, y), _ = cv2.minMaxLoc(found)
lamp, clean, mask = [v[y:y + h, x:x + w] for v in (lamp, clean, mask)]
stand = mask[..., 0] > 0; stand[:, 760 - x:] = False
heron = mask[..., 0] > 0; heron[:, :840 - x] = False; heron[:, 950 - x:] = False
psnr = lambda a, b, m: float(10 * np.log10(255 ** 2 / max(1e-4, ((a - b)[m] ** 2).mean())))
print(json.dumps({'stand': psnr(got, clean, stand), 'before': psnr(lamp, clean, stand), 'heron': psnr(got, lamp, heron)}))`,
        path,
      ],
      { encoding: "utf8" },
    ),
  ) as { stand: number; before: number; heron: number };
  // common practice, no source: 30 dB between two noisy frames of one view
  expect(facts.stand).toBeGreaterThan(Math.max(27, facts.before + 8));
  expect(facts.heron).toBeGreaterThan(30);
});

nightly("a focus merge is retouched by painting from another frame", async () => {
  const page = await openMerge(context, "barometer", 8);
  await expect(page.getByText("Focus merge in use")).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await exact(page);
  await pressed(page, "Depth").click();
  await exact(page);
  await pressed(page, "In use").click();
  await page.getByRole("group", { name: "Paint a place from" }).getByRole("button", { name: "Frame 8" }).click();
  const box = (await page.locator("[data-exact]").boundingBox())!;
  await page.mouse.move(box.x + 300, box.y + 300);
  await page.mouse.down();
  await page.mouse.move(box.x + 340, box.y + 320, { steps: 5 });
  await page.mouse.up();
  await expect(places(page).nth(1)).toContainText(/painted.*frame 8/s);
  await page.mouse.move(box.x + 322, box.y + 311);
  await expect(page.locator("span", { hasText: /^frame \d/ }).first()).toContainText("8");
  await page.getByRole("group", { name: "Paint a place from" }).getByRole("button", { name: "As merged" }).click();
  const brush = page.getByRole("textbox", { name: "Brush size, px" });
  await brush.fill("300");
  await brush.press("Enter");
  await page.mouse.move(box.x + 290, box.y + 295);
  await page.mouse.down();
  await page.mouse.move(box.x + 350, box.y + 325, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByRole("grid", { name: "Places that moved" })).toHaveCount(0);
  await noViolations(page, "focus merge");
});
