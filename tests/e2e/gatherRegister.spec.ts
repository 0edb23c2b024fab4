/** Sets that need a person: a parity fault is caught and mended, a swap is registered on one region, a failing frame is placed by points. */
import { expect, test, type BrowserContext, type Page } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { exact, nightly, noViolations, openBrowser, pageOf, placeOf, pressed, quiet, stage, temporaryFolder } from "./support";

const folder = temporaryFolder();
let context: BrowserContext;

test.beforeEach(async ({}, info) => {
  context = await openBrowser(join(folder, String(info.line)));
});
test.afterEach(() => context.close());

async function openPage(address: string): Promise<Page> {
  const page = await pageOf(context);
  await page.goto(`http://localhost:3217${address}`);
  return page;
}

const registered = (page: Page) => page.waitForSelector("table[aria-label=Registration]", { timeout: 120_000 });

test("a frame without its partners' lens correction is caught, holds up registering, and is mended", async () => {
  const page = await openPage("/?demo=creek-lens");
  await expect(page.getByText("Separate shots, 4 frames")).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/k1 −0\.04\d against the others: barrel distortion that the others lack/)).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await noViolations(page, "gather with a finding");
  await stage(page, "Register");
  await page.getByRole("button", { name: "Register 4 frames" }).click();
  await expect(page.getByText(/The frames differ in geometry \(lens correction\)/)).toBeVisible();
  // the white balance of the later hours is what it should be
  await page.getByRole("button", { name: "Keep" }).last().click();
  await page.getByLabel("Why do they differ?").fill("Dusk is blue");
  await page.getByRole("button", { name: "Keep with this reason" }).click();
  await page.getByRole("button", { name: "Correct" }).click();
  await expect(page.getByText("Size, rotation, scale, lens, white balance, colour space and sharpening match.")).toBeVisible();
  await expect(page.getByText("White balance: Dusk is blue")).toBeVisible();
  await stage(page, "Register");
  await page.getByRole("button", { name: "Register 4 frames" }).click();
  await registered(page);
  await expect(page.getByText(/4 frames aligned/)).toBeVisible();
  // undone, the lens is as it was and the gate is shut again
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Undo" }).click();
  await stage(page, "Gather");
  await expect(page.getByText(/holds up registering/)).toBeVisible();
});

nightly("a swap is registered on the shoulder alone, to a pixel, and moved by hand", async () => {
  const truth = JSON.parse(readFileSync("demo/figure/truth.json", "utf8")) as { size: [number, number]; points: { moving: number[][] } };
  const page = await openPage("/?demo=figure");
  await expect(page.getByText("Separate shots, 2 frames")).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole("button", { name: "Compare again" })).toBeVisible({ timeout: 60_000 });
  await quiet(page);
  await stage(page, "Register");
  await page.getByRole("button", { name: "Register 2 frames" }).click();
  await registered(page);
  await page.getByRole("button", { name: "Make it the reference" }).click();
  await expect(page.getByRole("row", { name: /^1 reference/ })).toBeVisible();
  await quiet(page);
  await page.getByRole("button", { name: "Line up, box" }).click();
  const reference = JSON.parse(readFileSync("demo/figure/truth.json", "utf8")) as { shoulder: number[] };
  const [x, y, w, h] = reference.shoulder;
  const from = await placeOf(page, truth.size, x - 30, y - 30);
  const to = await placeOf(page, truth.size, x + w + 30, y + h + 30);
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move((from[0] + to[0]) / 2, (from[1] + to[1]) / 2);
  await page.mouse.move(...to);
  await page.mouse.up();
  await page.getByRole("button", { name: "Register on the regions" }).click();
  const left = page.getByTestId("pinned-residual");
  await expect(left).toBeVisible({ timeout: 120_000 });
  expect(parseFloat(await left.innerText())).toBeLessThan(1);
  await expect(page.getByText("Drift elsewhere")).toBeVisible();
  await noViolations(page, "register with a region");

  await page.getByRole("button", { name: "Place by hand" }).click();
  const live = page.getByTestId("live-residual");
  await expect(live).toContainText("px");
  const before = await page.getByRole("textbox", { name: "Shift across, px" }).inputValue();
  await page.locator("[data-exact]").click({ position: { x: 5, y: 5 } });
  await page.keyboard.press("Shift+ArrowRight");
  await expect(page.getByRole("textbox", { name: "Shift across, px" })).not.toHaveValue(before);
  // a tool that was pressed leaves the arrows to the frame
  const moved = await page.getByRole("textbox", { name: "Shift across, px" }).inputValue();
  await page.getByRole("radio", { name: "Corners" }).click();
  await page.getByRole("radio", { name: "Move" }).click();
  await page.keyboard.press("Shift+ArrowLeft");
  await expect(page.getByRole("textbox", { name: "Shift across, px" })).not.toHaveValue(moved);
  await page.keyboard.press("Shift+ArrowRight");
  await expect(page.getByRole("textbox", { name: "Shift across, px" })).toHaveValue(moved);
  await page.getByRole("button", { name: "Refine from here" }).click();
  await expect(page.getByRole("button", { name: "Place by hand" })).toBeVisible({ timeout: 60_000 });
  expect(parseFloat(await left.innerText())).toBeLessThan(1);
});

nightly("a frame that fits nowhere is named with its reason and placed by control points", async () => {
  // a quarter of the size is more than registration looks for by itself
  execFileSync("/usr/bin/python3", [
    "-c",
    "import cv2, sys; a = cv2.imread(sys.argv[1]); cv2.imwrite(sys.argv[2], cv2.resize(a, (432, 288), interpolation=cv2.INTER_AREA))",
    "demo/creek/creek-1.jpg",
    join(folder, "small.jpg"),
  ]);
  const page = await openPage("/");
  await page.getByRole("button", { name: "New job" }).click();
  await page
    .locator('input[type="file"]')
    .first()
    .setInputFiles(["demo/creek/creek-1.jpg", "demo/creek/creek-2.jpg", join(folder, "small.jpg")]);
  await page.waitForSelector("table[aria-label=Frames]");
  await expect(page.getByRole("button", { name: /Compare (again|the frames)/ })).toBeVisible({ timeout: 90_000 });
  await quiet(page);
  const makeEqual = page.getByRole("button", { name: "Correct" });
  while ((await makeEqual.count()) > 0) await makeEqual.first().click();
  const join1 = page.getByRole("button", { name: "Join with it" });
  while ((await join1.count()) > 0) await join1.first().click();
  await stage(page, "Register");
  await page.getByRole("button", { name: "Register 3 frames" }).click();
  await registered(page);
  await expect(page.getByText("1 of 3 frames left out")).toBeVisible();
  await page.getByRole("row", { name: /left out/ }).click();
  await expect(page.getByText(/control points, or leave it out/)).toBeVisible();
  await page.getByRole("button", { name: "Place by hand" }).click();
  await expect(page.getByText("0 control points")).toBeVisible();

  const size: [number, number] = [1800, 1200];
  const scale = 432 / 1800;
  const small = (x: number, y: number): [number, number] => [(x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5];
  // the corner of the roof, then the hub of the wind pump; the frame lies at its own size and moves with the first point
  const [first, second] = [
    [347, 390],
    [1480, 262],
  ] as const;
  await page.mouse.click(...(await placeOf(page, size, ...first, 0)));
  await expect(page.getByText("1 control point", { exact: true })).toBeVisible();
  await page.mouse.click(...(await placeOf(page, size, ...small(...first), 1)));
  await page.waitForTimeout(600);
  await page.mouse.click(...(await placeOf(page, size, ...second, 0)));
  await expect(page.getByText("2 control points")).toBeVisible();
  const shift = small(...first).map((v, i) => first[i] - v);
  await page.mouse.click(...(await placeOf(page, size, small(...second)[0] + shift[0], small(...second)[1] + shift[1], 1)));
  await page.waitForTimeout(600);
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByText("by points")).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/3 frames aligned/)).toBeVisible();
  // scaled by 4.17 to lie on the others; two clicks on a small picture are good to a few px
  const row = await page.getByRole("row", { name: /by points/ }).innerText();
  expect(parseFloat(row.match(/(\d\.\d{4})/)![1])).toBeCloseTo(1 / scale, 0);
});

test("pictures stay in a linked folder: renamed ones are found, missing ones named and found elsewhere", async () => {
  const page = await openPage("/");
  // the browser's own file system stands in for the disk, as no dialog can be answered here
  await page.evaluate(async () => {
    const root = await navigator.storage.getDirectory();
    const put = async (folder: string, name: string, from: string) => {
      const handle = await (await root.getDirectoryHandle(folder, { create: true })).getFileHandle(name, { create: true });
      const writer = await handle.createWritable();
      await writer.write(await (await fetch(from)).blob());
      await writer.close();
    };
    for (const k of [1, 2]) await put("Creek", `creek-${k}.jpg`, `/api/demos/creek/creek-${k}.jpg`);
    await put("Creek", "notes.txt", "/api/demos");
    await put("Backup", "kept.jpg", "/api/demos/creek/creek-1.jpg");
  });
  const choose = (name: string) =>
    page.evaluate((chosen) => {
      const picker = async () => (await navigator.storage.getDirectory()).getDirectoryHandle(chosen);
      Object.assign(window, { showDirectoryPicker: picker });
    }, name);
  await page.getByRole("button", { name: "New job" }).click();
  await choose("Creek");
  await page.getByRole("button", { name: "Link a folder" }).click();
  await expect(page.getByText("2 frames in “Creek”, linked by checksum; no copy is kept in the browser.")).toBeVisible({ timeout: 60_000 });
  await quiet(page);
  await noViolations(page, "gather with a folder");
  const change = (from: string, to: string | null) =>
    page.evaluate(
      async ([name, other]) => {
        const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle("Creek");
        if (other) await ((await folder.getFileHandle(name!)) as FileSystemFileHandle & { move(to: string): Promise<void> }).move(other);
        else await folder.removeEntry(name!);
      },
      [from, to] as const,
    );
  await change("creek-2.jpg", "harbour.jpg");
  await page.reload();
  await expect(page.getByText("creek-2.jpg was found again as harbour.jpg.")).toBeVisible({ timeout: 60_000 });
  await change("creek-1.jpg", null);
  await page.reload();
  await expect(page.getByText("creek-1.jpg is not there any more.")).toBeVisible({ timeout: 60_000 });
  await choose("Backup");
  await page.getByRole("button", { name: "Look in a folder" }).click();
  await expect(page.getByText("What was missing was found in “Backup”.")).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText("1 frame in “Backup”, linked by checksum; no copy is kept in the browser.")).toBeVisible();
});

test("a focus stack is recognised, merged, its depth and gaps shown", async () => {
  const page = await openPage("/?demo=barometer");
  await expect(page.getByText("Focus stack, 8 frames")).toBeVisible({ timeout: 90_000 });
  await quiet(page);
  await stage(page, "Register");
  await page.getByRole("button", { name: "Register 8 frames" }).click();
  await expect(page.getByText(/8 frames aligned/)).toBeVisible({ timeout: 180_000 });
  await quiet(page);
  await stage(page, "Merge");
  await expect(page.getByText("Merge what is sharp in each frame")).toBeVisible();
  await page.getByRole("button", { name: "Merge 8 frames" }).click();
  await expect(page.getByText("Focus merge in use")).toBeVisible({ timeout: 120_000 });
  await expect(page.getByRole("table", { name: "Shares" }).getByRole("row")).toHaveCount(9);
  await pressed(page, "Depth").click();
  await expect(page.getByRole("heading", { name: "Where it is sharp" })).toBeVisible();
  await noViolations(page, "merge of a focus stack");
});

test("many frames are ranked by a place, and those taken become a set that can be given back", async () => {
  const page = await openPage("/?demo=barometer");
  await expect(page.getByText("Focus stack, 8 frames")).toBeVisible({ timeout: 90_000 });
  await quiet(page);
  await page.getByText("Rank by a place").click();
  await exact(page);
  const first = page.getByRole("group", { name: "The place in each frame" }).locator("label, button").first();
  // the plane of sharpness moves from front to back: the dial's lower half is sharpest in the third frame, the far rim in the last (demo/barometer/depth.png)
  await page.mouse.click(...(await placeOf(page, [1500, 1000], 750, 700)));
  await expect(first).toContainText("3: 100");
  await page.mouse.click(...(await placeOf(page, [1500, 1000], 750, 150)));
  await expect(first).toContainText("8: 100");
  await noViolations(page, "ranking by a place");
  await page.getByRole("button", { name: "Take the first 5" }).click();
  await page.getByRole("button", { name: "Make a set of 5 frames" }).click();
  await expect(page.getByRole("heading", { name: "2 sets" })).toBeVisible();
  await expect(page.getByText("Focus stack, 5 frames")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("Focus stack, 8 frames")).toBeVisible();
});
