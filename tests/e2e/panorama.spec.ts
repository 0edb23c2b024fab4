/** Frames in any order become a wide picture: laid out, levelled, cropped to 2:1 about three things that must stay, joined and delivered. */
import { expect, test, type BrowserContext, type Page } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { copyFileSync } from "node:fs";
import path from "node:path";
import { runPython } from "../support/python";
import { exact, nightly, noViolations, openBrowser, pageOf, pick, placeOf, pressed, quiet, stage, temporaryFolder } from "./support";

const folder = temporaryFolder();
let context: BrowserContext;

test.beforeEach(async ({}, info) => {
  context = await openBrowser(path.join(folder, String(info.line)));
});
test.afterEach(() => context.close());

/** Size of the picture as the bench says it. */
async function sizeOf(page: Page): Promise<[number, number]> {
  const text = await page.getByText(/^[\d\u202f]+ × [\d\u202f]+ px, [\d.]+\u202fMP\.$/).innerText();
  const [w, h] = text
    .split("px")[0]
    .split("×")
    .map((v) => Number(v.replace(/\D/g, "")));
  return [w, h];
}

/** The frames at hand laid out as a panorama. */
async function layOut(page: Page, frames: number): Promise<void> {
  await expect(page.getByText(new RegExp(`, ${frames} frames`)).first()).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await stage(page, "Register");
  await page.getByRole("button", { name: `Lay out ${frames} frames` }).click();
  await expect(page.getByRole("heading", { name: new RegExp(`^${frames} frames aligned`) })).toBeVisible({ timeout: 240_000 });
  await quiet(page);
}

async function join(page: Page, frames: number): Promise<void> {
  await stage(page, "Merge");
  await page.getByRole("button", { name: `Merge ${frames} frames` }).click();
  await expect(page.getByText("Panorama in use")).toBeVisible({ timeout: 240_000 });
  await quiet(page);
}

/** Writes the picture as PNG. @returns its size, its kind of sample and the share of it that is black */
async function deliver(page: Page, name: string): Promise<{ size: number[]; type: string; black: number }> {
  await stage(page, "Hand over");
  await page.getByRole("row", { name: /PNG, 16 bit/ }).click();
  const waiting = page.waitForEvent("download");
  await page.getByRole("button", { name: /^Write/ }).click();
  const file = path.join(folder, name);
  await (await waiting).saveAs(file);
  return runPython(
    "import cv2, sys, json\na = cv2.imread(sys.argv[1], -1)\nprint(json.dumps({'size': a.shape[1::-1], 'type': str(a.dtype), 'black': float((a.max(2) == 0).mean())}))",
    [file],
  );
}

test("unordered frames become a picture at 2:1 that keeps three things, is joined without a visible seam and delivered", async () => {
  test.setTimeout(420_000);
  const page = await pageOf(context);
  await page.goto("http://localhost:3217/");
  // names that say nothing of the order
  const shuffled = [3, 1, 5, 2, 4].map((n, i) => {
    const to = path.join(folder, `walk-${"abcde"[i]}.jpg`);
    copyFileSync(`demo/boardwalk/boardwalk-${n}.jpg`, to);
    execFileSync("exiftool", ["-q", "-overwrite_original", "-AllDates=2026:09:21 07:41:10", "-SubSecTime*=", to]);
    return to;
  });
  await page.getByRole("button", { name: "New job" }).click();
  await page.waitForSelector("text=Bring the frames of one picture");
  await page.locator("input[type=file][multiple]").first().setInputFiles(shuffled);
  await layOut(page, 5);
  // frame 2 of these is the first of the row, frame 3 the last; the demo's truth says −44.6° and 44.2°
  const yaw = async (row: number) =>
    Number(
      (await page.getByRole("grid", { name: "Frames" }).getByRole("row").nth(row).getByRole("gridcell").nth(0).innerText()).split("°")[0].replace("−", "-"),
    );
  expect(Math.abs((await yaw(3)) - (await yaw(2)) - 88.8)).toBeLessThan(0.3);
  await noViolations(page, "panorama laid out");

  await pressed(page, "Projections").click();
  await expect(page.getByRole("region", { name: "Cylindrical" })).toBeVisible();
  await expect(page.getByRole("region", { name: /^Adaptive/ })).toContainText("proposed");
  await noViolations(page, "projections");
  await page.getByRole("region", { name: "Cylindrical" }).getByRole("button", { name: "Use" }).click();
  await exact(page);
  await quiet(page);
  const size = await sizeOf(page);

  // the pump house, the wheel of the wind pump, the walk
  await page.getByRole("button", { name: "Must stay" }).click();
  for (const [x, y] of [
    [0.44, 0.45],
    [0.6, 0.36],
    [0.49, 0.85],
  ])
    await page.mouse.click(...(await placeOf(page, size, x * size[0], y * size[1])));
  await pick(page, "Ratio", "2:1");
  await expect(page.getByText(/^Room to the border: 1: \d+/)).toBeVisible();
  await page.getByRole("complementary", { name: "Bench" }).getByRole("button", { name: "Use" }).click();

  await join(page, 5);
  const seams = page.getByRole("table", { name: "Seams" }).getByRole("row");
  expect(Number(await seams.nth(1).getByRole("cell").nth(2).innerText())).toBeLessThan(1);
  await seams.nth(1).getByRole("button").click();
  await exact(page);
  await noViolations(page, "panorama joined");

  const read = await deliver(page, "walk.png");
  expect(read.type).toBe("uint16");
  expect(read.size[0] / read.size[1]).toBeCloseTo(2, 2);
  expect(read.size[1]).toBeGreaterThan(700);
  expect(read.black).toBeLessThan(0.001);
});

test("a place painted from another frame takes that frame there, and two clicks level the horizon", async () => {
  const page = await pageOf(context);
  await page.goto("http://localhost:3217/?demo=boardwalk");
  await layOut(page, 5);
  await exact(page);
  const roll = page.getByRole("textbox", { name: /^Roll/ });
  const before = await roll.inputValue();
  const size = await sizeOf(page);
  await page.getByRole("button", { name: "Horizon", exact: true }).click();
  await page.mouse.click(...(await placeOf(page, size, size[0] * 0.2, size[1] * 0.5)));
  await page.mouse.click(...(await placeOf(page, size, size[0] * 0.8, size[1] * 0.56)));
  await expect(roll).not.toHaveValue(before);
  await page.keyboard.press("Control+z");
  await expect(roll).toHaveValue(before);

  await join(page, 5);
  await exact(page);
  const from = page.locator("span", { hasText: /^frame \d/ }).first();
  const spot = await placeOf(page, size, size[0] * 0.6, size[1] * 0.37);
  await page.mouse.move(...spot);
  await expect(from).toBeVisible();
  const giving = Number((await from.innerText()).match(/frame (\d)/)![1]);
  const other = giving === 3 ? 4 : 3;
  await page
    .getByRole("group", { name: "Paint a place from" })
    .getByRole("button", { name: `Frame ${other}`, exact: true })
    .click();
  await page.mouse.move(...spot);
  await page.mouse.down();
  await page.mouse.move(spot[0] + 6, spot[1] + 4, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText(/places moved|One place moved|Painted by hand/).first()).toBeVisible();
  await page.mouse.move(spot[0] + 2, spot[1] + 1);
  await expect(from).toContainText(`frame ${other}`, { timeout: 30_000 });
});

nightly("two rows fill a rectangle to the corners when their border is bent, and a line said to be level stays", async () => {
  const page = await pageOf(context);
  await page.goto("http://localhost:3217/?demo=landing");
  await layOut(page, 6);
  await exact(page);
  const size = await sizeOf(page);
  const area = async () => {
    const [w, h] = (await page.getByText(/lie wholly inside the frames/).innerText())
      .split("px")[0]
      .split("×")
      .map((v) => Number(v.replace(/\D/g, "")));
    return w * h;
  };
  const flat = await area();
  expect(flat).toBeLessThan(0.95 * size[0] * size[1]);
  const bent = page.getByRole("textbox", { name: "Corners filled by warping, %" });
  await bent.fill("100");
  await bent.press("Enter");
  await expect(page.getByText(/^Moves what lies at the border by up to \d+ px and tilts .* by up to [\d.]+°/)).toBeVisible();
  await expect.poll(area).toBeGreaterThan(0.97 * size[0] * size[1]);
  await exact(page);
  await noViolations(page, "panorama bent outwards");

  await page.getByRole("button", { name: "Horizon", exact: true }).click();
  await page.mouse.click(...(await placeOf(page, size, size[0] * 0.15, size[1] * 0.6)));
  await page.mouse.click(...(await placeOf(page, size, size[0] * 0.85, size[1] * 0.62)));
  const line = page.getByRole("table", { name: "Lines" }).getByRole("row").first();
  await expect(line).toContainText("met");
  const roll = page.getByRole("textbox", { name: /^Roll/ });
  await roll.fill("3");
  await roll.press("Enter");
  await expect(line).toContainText("off");
  await page.getByRole("button", { name: "By its lines" }).click();
  await expect(line).toContainText("met");
  // gone and there again, and the picture back as it was measured
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await expect(line).toHaveCount(0);
  await exact(page);

  await join(page, 6);
  const read = await deliver(page, "landing.png");
  expect(read.size[0] * read.size[1]).toBeGreaterThan(0.97 * size[0] * size[1]);
  expect(read.black).toBeLessThan(0.001);
});
