/** Seating through the real interface: the walk's horizon and light told by hand, the heron on its ground, by pointer and by keys. */
import { expect, test, type BrowserContext, type Page } from "@playwright/test";
import { join } from "node:path";
import { dragOn, exact, mergePlateAlone, noViolations, openBrowser, openSeat, pageOf, placeOf, quiet, stage, temporaryFolder, tool } from "./support";

const SIZE: [number, number] = [1800, 1200];
const folder = temporaryFolder();
let context: BrowserContext;

test.beforeEach(async ({}, info) => {
  context = await openBrowser(join(folder, String(info.line)));
});
test.afterEach(() => context.close());

const drag = (page: Page, ...places: [number, number][]) => dragOn(page, SIZE, ...places);
const plateRow = (page: Page) => page.getByRole("row", { name: /^Plate/ });
const thingRow = (page: Page) => page.getByRole("row", { name: /^1 Cut-out of frame 2/ });

test("the plate is told by hand where its lines do not tell it, and the heron stands on its ground", async () => {
  const page = await openSeat(context);
  await expect(plateRow(page)).toContainText("not known");
  await page.getByRole("button", { name: "Find it by straight lines" }).click();
  await expect(page.getByText(/do not tell its horizon/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Dismiss" }).first().click();

  // pulled on to the edge of the sky
  await tool(page, "Pull it");
  await drag(page, [900, 600], [900, 430]);
  await expect(plateRow(page)).toContainText("± 0.5°");
  await expect(page.getByText("Pulled by hand.")).toBeVisible();
  // then told by the edges of the walk and a post
  await tool(page, "Level, away");
  await drag(page, [590, 1190], [706, 560]);
  await drag(page, [1250, 1190], [896, 660]);
  await tool(page, "Upright line");
  await drag(page, [683, 775], [683, 612]);
  await expect(page.getByText(/By the lines that were drawn, ± /)).toBeVisible();

  // a post that is known to be 0.9 m high tells how high the camera stood
  await tool(page, "Known height");
  await drag(page, [683, 825], [683, 612]);
  const known = page.getByRole("textbox", { name: "Known height" });
  await known.fill("0.9");
  await known.press("Enter");
  await expect(page.getByText("By the lengths that are known.")).toBeVisible();

  // the post and its shadow tell the light; without a direction there is none
  await tool(page, "Mark a shadow");
  for (const place of [
    [683, 825],
    [683, 612],
    [1010, 775],
  ] as [number, number][]) {
    await page.mouse.click(...(await placeOf(page, SIZE, ...place)));
  }
  await expect(plateRow(page)).toContainText("az. / height");
  await expect(page.getByText(/^By one shadow, ± /)).toBeVisible();
  await page.getByRole("button", { name: "Overcast" }).click();
  await expect(plateRow(page)).toContainText("no direction");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(plateRow(page)).toContainText("az. / height");
  await noViolations(page, "the plate");

  await page.getByRole("button", { name: "Seat a layer" }).click();
  await page.getByRole("menuitem").first().click();
  await expect(thingRow(page)).toContainText("on the ground", { timeout: 60_000 });
  const height = async () => Number(/([\d.]+)\s*px/.exec(await thingRow(page).innerText())![1]);
  const before = await height();
  await drag(page, [900, 950], [960, 1080]);
  expect(await height()).toBeGreaterThan(before);
  await exact(page);
  // twice as tall, by keys
  const nearer = await height();
  const tall = page.getByRole("textbox", { name: "How tall it is" });
  await tall.fill("2");
  await tall.press("Enter");
  expect((await height()) / nearer).toBeGreaterThan(1.7);
  await page.getByRole("button", { name: "Undo" }).click();
  expect(await height()).toBe(nearer);
  // its shadow is a layer of its own under it
  await page.getByRole("button", { name: "Lay its shadow" }).click();
  await expect(page.getByText(/as a layer of its own, follows it/)).toBeVisible();
  await exact(page);
  await page.getByRole("button", { name: "To its shadow" }).click();
  await expect(page.getByText("Cast shadow").first()).toBeVisible();
  await noViolations(page, "the mask of a cast shadow");
  await page.getByRole("button", { name: "Seat in the plate" }).click();
  await thingRow(page).click();
  // above the horizon it has no ground, and stays
  const down = page.getByRole("textbox", { name: "Foot, down, px", exact: true });
  await down.fill("100");
  await down.press("Enter");
  await expect(page.getByText(/there is no ground/)).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await noViolations(page, "a thing that is seated");

  // all of it is there after a reload
  await page.waitForTimeout(500);
  await page.reload();
  await exact(page);
  await page.getByRole("button", { name: "Seat in the plate" }).click();
  await thingRow(page).click();
  expect(await height()).toBe(nearer);
  // a layer that is moved by hand since is told, and seated again by one press
  await page.getByRole("button", { name: "To its layer" }).click();
  const size = page.getByRole("textbox", { name: "Size" }).last();
  await size.fill("40");
  await size.press("Enter");
  await page.getByRole("button", { name: "Seat in the plate" }).click();
  await thingRow(page).click();
  await page.getByRole("button", { name: "Seat it again" }).click();
  await expect(page.getByText(/was moved by hand since/)).toHaveCount(0);
  expect(await height()).toBe(nearer);
  await page.getByRole("button", { name: "Back to the layers" }).click();
  await expect(page.getByRole("button", { name: "Seat in the plate" })).toBeVisible();
});

test("a creek that is marked mirrors the heron, a wall carries it flat; the keys alone mark a wall", async () => {
  const page = await openSeat(context);
  await tool(page, "Pull it");
  await drag(page, [900, 600], [900, 415]);
  await expect(plateRow(page)).toContainText("± 0.5°");
  await tool(page, "Mark water");
  for (const place of [
    [1290, 520],
    [1760, 590],
    [1760, 985],
    [1400, 770],
  ] as [number, number][]) {
    await page.mouse.click(...(await placeOf(page, SIZE, ...place)));
  }
  await expect(page.getByRole("textbox", { name: /^1\. Water/ })).toBeVisible();
  // a surface in the sky is refused in a sentence
  await tool(page, "Mark a wall");
  for (const place of [
    [300, 100],
    [700, 100],
  ] as [number, number][]) {
    await page.mouse.click(...(await placeOf(page, SIZE, ...place)));
  }
  await expect(page.getByText(/A surface cannot lie there/)).toBeVisible();
  await page.getByRole("button", { name: "Dismiss" }).last().click();
  // the middle of the picture is the pointer of who has none: one end of the wall there, the other where the picture is moved to
  const picture = page.locator("[data-exact]");
  await picture.focus();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Space");
  await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("Space");
  await expect(page.getByRole("textbox", { name: /^2\. Wall/ })).toBeVisible();
  await noViolations(page, "marked surfaces");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("textbox", { name: /^2\. Wall/ })).toHaveCount(0);
  await page.getByRole("button", { name: "Whole" }).click();
  for (const place of [
    [472, 540],
    [740, 540],
  ] as [number, number][]) {
    await page.mouse.click(...(await placeOf(page, SIZE, ...place)));
  }
  await expect(page.getByRole("textbox", { name: /^2\. Wall/ })).toBeVisible();

  await page.getByRole("button", { name: "Seat a layer" }).click();
  await page.getByRole("menuitem").first().click();
  await expect(thingRow(page)).toContainText("on the ground", { timeout: 60_000 });
  // on the walk its mirror image would lie in no water
  await page.getByRole("button", { name: "Lay its reflection" }).click();
  await expect(page.getByText(/would lie in no water/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Dismiss" }).last().click();
  await drag(page, [900, 950], [1600, 720]);
  await page.getByRole("button", { name: "Lay its reflection" }).click();
  await expect(page.getByRole("button", { name: "To its reflection" })).toBeVisible({ timeout: 60_000 });
  await exact(page);
  await page.getByRole("button", { name: "To its reflection" }).click();
  const ripples = page.getByRole("textbox", { name: /Slope of the ripples/ });
  await ripples.fill("8");
  await ripples.press("Enter");
  await exact(page);
  await noViolations(page, "a reflection");
  await page.getByRole("button", { name: "Seat in the plate" }).click();
  await thingRow(page).click();
  await tool(page, "Flat on it");
  await drag(page, [1600, 720], [600, 500]);
  await expect(thingRow(page)).toContainText("flat on it");
  await tool(page, "In the sky");
  await expect(thingRow(page)).toContainText("0.53°");
  await exact(page);
});

const JETTY: [number, number] = [1500, 1000];
// truth of demo/keepers, where they stood when the plate was rendered with them
const KEEPERS = [
  { frame: 2, foot: [777, 795], metres: 1.05, awayM: 4.6 },
  { frame: 3, foot: [985, 676], metres: 0.92, awayM: 6.08 },
  { frame: 4, foot: [875, 552], metres: 0.92, awayM: 8.63 },
] as const;

test("three keepers stand on the jetty at their distances, and Proof finds what was planted: a moved one, a mirrored one, a missing shadow", async () => {
  test.setTimeout(300_000);
  const page = await pageOf(context);
  await page.goto("http://localhost:3217/?demo=keepers");
  await expect(page.getByRole("heading", { name: "3 sets" })).toBeVisible({ timeout: 120_000 });
  await mergePlateAlone(page);
  for (const { frame } of KEEPERS) {
    await page.getByRole("button", { name: "Cut out" }).click();
    await page.getByRole("menuitem", { name: new RegExp(`Frame ${frame}`) }).click();
    await exact(page);
    await page.getByText("An even backdrop", { exact: true }).click();
    await expect(page.getByRole("heading", { name: "What was cut" })).toBeVisible({ timeout: 60_000 });
    await quiet(page);
  }
  await page.getByRole("button", { name: "Seat in the plate" }).click();
  await exact(page);
  await page.getByRole("button", { name: "Find it by straight lines" }).click();
  await expect(page.getByText(/^Found by \d+ straight lines/)).toBeVisible({ timeout: 60_000 });
  // the stake is known to be 0.6 m high, and its shadow tells the light
  await tool(page, "Known height");
  await dragOn(page, JETTY, [941, 887], [948, 680]);
  const known = page.getByRole("textbox", { name: "Known height" });
  await known.fill("0.6");
  await known.press("Enter");
  await tool(page, "Mark a shadow");
  for (const place of [
    [941, 887],
    [948, 680],
    [714, 816],
  ] as [number, number][])
    await page.mouse.click(...(await placeOf(page, JETTY, ...place)));
  await expect(plateRow(page)).toContainText("az. / height");

  for (const [i, { foot, metres, awayM }] of KEEPERS.entries()) {
    await plateRow(page).click();
    await page.getByRole("button", { name: "Seat a layer" }).click();
    await page.getByRole("menuitem").first().click();
    const row = page.getByRole("row", { name: new RegExp(`^${i + 1} Cut-out`) });
    await expect(row).toContainText("on the ground", { timeout: 60_000 });
    const values = { "How tall it is": metres, "Foot, across, px": foot[0], "Foot, down, px": foot[1] };
    for (const [name, value] of Object.entries(values)) {
      const field = page.getByRole("textbox", { name: new RegExp(`^${name}`) });
      await field.fill(String(value));
      await field.press("Enter");
    }
    const told = async () => Number(/([\d.]+)\s*m\b/.exec(await row.innerText())![1]);
    await expect.poll(async () => Math.abs((await told()) / awayM - 1)).toBeLessThan(0.05);
    // the last one gets no shadow
    if (i < 2) {
      await page.getByRole("button", { name: "Lay its shadow" }).click();
      await expect(page.getByRole("button", { name: "To its shadow" })).toBeVisible({ timeout: 60_000 });
    }
  }
  await exact(page);
  // one is turned away from the light, one is moved off its feet
  await page.getByRole("row", { name: /^1 Cut-out/ }).click();
  await page.getByText("Mirrored", { exact: true }).click();
  await page.getByRole("row", { name: /^2 Cut-out/ }).click();
  await page.getByRole("button", { name: "To its layer" }).click();
  const size = page.getByRole("textbox", { name: "Size" }).last();
  await size.fill(String(1.3 * Number(await size.inputValue())));
  await size.press("Enter");
  await stage(page, "Proof");
  await quiet(page);
  await page.getByRole("button", { name: /^Show \d+ more/ }).click();
  // a shadow's own border is none
  await expect(page.getByText(/along the mask of "Shadow/)).toHaveCount(0);
  for (const found of [/does not stand where it was seated/, /is lit from another side/, /throws no shadow/])
    await expect(page.getByText(found).first()).toBeVisible({ timeout: 120_000 });
});
