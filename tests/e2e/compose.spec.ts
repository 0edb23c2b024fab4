/** Composing through the real interface: a doorway lifted, a beam of light and a falloff; four lights of a creek masked into one picture. */
import { expect, test, type BrowserContext, type Page } from "@playwright/test";
import { join } from "node:path";
import { exact, nightly, noViolations, openBrowser, openMerge, pick, placeOf, pressed, quiet, stage, temporaryFolder } from "./support";

const folder = temporaryFolder();
const SIZE: [number, number] = [2496, 1664];
let context: BrowserContext;

test.beforeEach(async ({}, info) => {
  context = await openBrowser(join(folder, String(info.line)));
});
test.afterEach(() => context.close());

async function setValue(page: Page, name: string, value: string): Promise<void> {
  const field = page.getByRole("textbox", { name, exact: true });
  await field.fill(value);
  await field.press("Enter");
  await expect.poll(async () => Number((await field.inputValue()).replace("\u2212", "-"))).toBe(Number(value));
  await exact(page);
}

/** Output values, sRGB, at a place of the picture. */
async function valuesAt(page: Page, x: number, y: number): Promise<number[]> {
  const [sx, sy] = await placeOf(page, SIZE, x, y);
  const line = page.locator("span", { hasText: /^sRGB/ });
  const read = async () => {
    await page.mouse.move(sx + 2, sy);
    await page.mouse.move(sx, sy);
    await page.waitForTimeout(700);
    return (await line.innerText()).split(/\s+/).slice(1, 4).map(Number);
  };
  await page.waitForTimeout(500);
  await exact(page);
  return read();
}
const sum = (v: number[]) => v.reduce((a, b) => a + b, 0);

async function drag(page: Page, places: [number, number][]): Promise<void> {
  const at = await Promise.all(places.map(([x, y]) => placeOf(page, SIZE, x, y)));
  await page.mouse.move(...at[0]);
  await page.mouse.down();
  for (const p of at.slice(1)) await page.mouse.move(...p, { steps: 5 });
  await page.mouse.up();
}

async function addFrom(page: Page, menu: string, item: string): Promise<void> {
  await pressed(page, menu).click();
  await page
    .getByRole("menuitem")
    .filter({ has: page.getByText(item, { exact: true }) })
    .click();
}
const layers = (page: Page) => page.getByRole("grid", { name: "Layers" }).getByRole("row");

nightly("the doorway is lifted, a beam of light is laid in and the corners fall off, each only where it was meant", async () => {
  const page = await openMerge(context, "doorway", 5);
  await stage(page, "Compose");
  await exact(page);
  const [door, reeds, sky, corner, middle] = [
    [700, 880],
    [1500, 1100],
    [1300, 300],
    [60, 1600],
    [1250, 900],
  ] as [number, number][];
  const before = {
    door: await valuesAt(page, ...door),
    reeds: await valuesAt(page, ...reeds),
    sky: await valuesAt(page, ...sky),
    corner: await valuesAt(page, ...corner),
  };

  // lift the doorway inside an ellipse
  await addFrom(page, "Adjustment ▾", "Exposure");
  await setValue(page, "Exposure, EV", "2.00");
  await pressed(page, "Mask").click();
  await addFrom(page, "Add a part ▾", "Ellipse");
  await drag(page, [door, [820, 1060]]);
  await expect(page.getByText(/^Changes \d/)).toBeVisible({ timeout: 30_000 });
  expect(sum(await valuesAt(page, ...door))).toBeGreaterThan(sum(before.door) + 20);
  expect(await valuesAt(page, ...reeds)).toEqual(before.reeds);
  await page.keyboard.press("m");
  await exact(page);
  await noViolations(page, "compose, a mask drawn");
  for (let i = 0; i < 3; i++) await page.keyboard.press("m");

  // a beam of light: an outline, feathered, screened over
  await addFrom(page, "Other ▾", "Colour");
  await setValue(page, "Red, sRGB", "255");
  await setValue(page, "Green, sRGB", "220");
  await setValue(page, "Blue, sRGB", "150");
  await pressed(page, "Mask").click();
  await addFrom(page, "Add a part ▾", "Outline");
  await drag(page, [
    [1000, 60],
    [1600, 60],
    [1800, 560],
    [900, 560],
    [1000, 60],
  ]);
  await setValue(page, "Feather of the whole, px", "40");
  await pressed(page, "Layer").click();
  await pick(page, "Blends", "Screen");
  await setValue(page, "Opacity, %", "30");
  const lit = await valuesAt(page, ...sky);
  expect(sum(lit)).toBeGreaterThan(sum(before.sky) + 15);
  expect(await valuesAt(page, ...reeds)).toEqual(before.reeds);

  // less light towards the corners
  await addFrom(page, "Adjustment ▾", "Light falloff");
  await setValue(page, "At the corners, EV", "-2.00");
  expect(sum(await valuesAt(page, ...corner))).toBeLessThan(0.75 * sum(before.corner));
  expect(sum(await valuesAt(page, ...sky))).toBeGreaterThan(sum(before.sky));
  await valuesAt(page, ...middle);

  // by keyboard, below the finish and its tone response: the row moves down and up again; one key shows the picture without the layer
  const row = layers(page).nth(3);
  await expect(row).toContainText("Light falloff");
  await row.focus();
  await page.keyboard.press("Alt+ArrowDown");
  await expect(layers(page).nth(4)).toContainText("Light falloff");
  await page.keyboard.press("Control+z");
  await expect(layers(page).nth(3)).toContainText("Light falloff");
  await page.locator("body").click({ position: { x: 640, y: 20 } });
  await page.keyboard.down("b");
  await expect(page.getByText("Without the layer")).toBeVisible();
  await page.keyboard.up("b");
  await expect(page.getByText("Without the layer")).toHaveCount(0);
  await noViolations(page, "compose, three layers");

  // a hidden layer does nothing, and it is there again after a reload
  await page.getByRole("button", { name: 'Hide "Light falloff"' }).click();
  expect(sum(await valuesAt(page, ...corner))).toBeGreaterThan(0.95 * sum(before.corner));
  await expect(page.getByTestId("saved")).toContainText("Saved");
  await page.reload();
  await expect(layers(page).nth(3)).toContainText("hidden");
  await expect(layers(page).nth(4)).toContainText("screen");
});

test("four lights of a creek: the reeds painted from the sunny frame, the water by a mask, all of it live", async () => {
  const page = await openMerge(context, "creek", 4);
  await stage(page, "Compose");
  await exact(page);
  const reeds: [number, number] = [1350, 1150];

  await pressed(page, "Frame 2").click();
  await setValue(page, "Flow, %", "100");
  await setValue(page, "Softness, %", "20");
  await drag(page, [[1200, 1150], reeds, [1500, 1150]]);
  await expect(page.getByText(/frame \d is best|This frame is the best here/)).toBeVisible({ timeout: 30_000 });
  const painted = await valuesAt(page, ...reeds);
  await pressed(page, "Frame").click();
  const alone = await valuesAt(page, ...reeds);
  await pressed(page, "Result").click();
  // where it is painted in full, the result is the frame
  painted.forEach((v, c) => expect(Math.abs(v - alone[c])).toBeLessThanOrEqual(2));

  // brightened only there: clipped to the layer below
  await addFrom(page, "Adjustment ▾", "Exposure");
  await setValue(page, "Exposure, EV", "1.00");
  await pressed(page, "Layer").click();
  await pressed(page, "Only on the layer below").click();
  const far: [number, number] = [400, 300];
  const raised = await valuesAt(page, ...reeds);
  expect(sum(raised)).toBeGreaterThan(sum(painted) + 20);
  const sky = await valuesAt(page, ...far);
  await page.getByRole("button", { name: 'Hide "Exposure"' }).click();
  expect(await valuesAt(page, ...far)).toEqual(sky);
  await page.getByRole("button", { name: 'Show "Exposure"' }).click();

  // both in a group, inverted as a whole
  await pressed(page, "Into a group").click();
  await expect(page.getByText("group of 1")).toBeVisible();
  await page.keyboard.press("Control+z");

  // the calm water of frame 3 below a ramp, where it is dark enough
  await pressed(page, "Frame 3").click();
  await pressed(page, "Mask").click();
  await pressed(page, "Remove part").click();
  await addFrom(page, "Add a part ▾", "Linear gradient");
  await drag(page, [
    [1250, 900],
    [1250, 1200],
  ]);
  await addFrom(page, "Add a part ▾", "Luminance range");
  await setValue(page, "From, EV", "-12.00");
  await setValue(page, "To, EV", "2.00");
  await pressed(page, "Mask alone").click();
  await exact(page);
  await noViolations(page, "compose, parts of a mask");
  await pressed(page, "Result").click();

  // a second layer follows the mask of the first
  await addFrom(page, "Adjustment ▾", "Chroma");
  await setValue(page, "Chroma, %", "0");
  await pressed(page, "Mask").click();
  await pick(page, "Take the mask of", "Frame 3: following it");
  await exact(page);
  const spread = (v: number[]) => Math.max(...v) - Math.min(...v);
  expect(spread(await valuesAt(page, 1900, 1500))).toBeLessThanOrEqual(4);
  expect(spread(await valuesAt(page, ...far))).toBeGreaterThan(8);
  await quiet(page);

  // the sheets that lie over it
  await pressed(page, "Layer").click();
  await page.getByRole("button", { name: "Keep as a look" }).click();
  for (const [name, open] of [
    ["Find an action", () => page.keyboard.press("a")],
    ["Looks", () => addFrom(page, "Other ▾", "Look")],
    ["Specks", () => addFrom(page, "Other ▾", "Find specks")],
  ] as const) {
    await open();
    await expect(page.getByRole("dialog")).toBeVisible();
    await noViolations(page, name);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
  }
  await quiet(page);

  // a layer is dragged to where it shall lie, and it is one step
  const rows = page.getByRole("grid", { name: "Layers" }).getByRole("row");
  const names = () => rows.evaluateAll((list) => list.map((row) => (row as HTMLElement).innerText.split("\n")[0].trim()));
  const before = await names();
  const [chroma, frame3] = [before.indexOf("Chroma"), before.indexOf("Frame 3")];
  const [from, to] = [(await rows.nth(frame3).boundingBox())!, (await rows.nth(chroma).boundingBox())!];
  await page.mouse.move(from.x + 40, from.y + 14);
  await page.mouse.down();
  for (const [y, steps] of [
    [from.y + 4, 4],
    [to.y + 3, 10],
    [to.y + 2, 1],
  ])
    await page.mouse.move(to.x + 40, y, { steps });
  await page.waitForTimeout(300);
  await page.mouse.up();
  await expect.poll(names).toEqual(before.with(chroma, "Frame 3").with(frame3, "Chroma"));
  await page.keyboard.press("Control+z");
  await expect.poll(names).toEqual(before);
});

nightly("parts lie in groups and are softened, a curve is bent by keyboard, panels give way and the picture is turned", async () => {
  const page = await openMerge(context, "creek", 4);
  await stage(page, "Compose");
  // a curve by keys alone: the last node down, and the picture changes
  await addFrom(page, "Adjustment ▾", "Curve");
  const curve = page.getByRole("application");
  await pressed(page, "Next node").click();
  await curve.focus();
  for (let k = 0; k < 6; k++) await page.keyboard.press("Shift+ArrowDown");
  await expect(page.getByRole("textbox", { name: "Node 2 to", exact: true })).toHaveValue("0.850");
  await expect(page.getByText(/^Changes [\d.]+\s?% of the picture/)).toBeVisible({ timeout: 30_000 });

  await pressed(page, "Frame 2").click();
  await addFrom(page, "Add a part ▾", "Group of parts");
  await addFrom(page, "Add a part to the group ▾", "Linear gradient");
  const parts = page.getByRole("grid", { name: "Parts of the mask" }).getByRole("row");
  await expect(parts).toHaveText([/^Painted, 0 strokes/, /^Group of parts/, /^Linear gradient\s*reveals/]);
  await pressed(page, "Into a group").click();
  await expect(parts).toHaveCount(4);
  await page.keyboard.press("u");
  await expect(parts).toHaveCount(3);
  await addFrom(page, "Add a part ▾", "Softened");
  await expect(pressed(page, "Soften")).toBeVisible();

  // while a stroke is painted the panels are away; the edge of the picture brings them back
  await pressed(page, "Panels give way while painting").click();
  await exact(page);
  const box = (await page.locator("[data-exact]").boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 60, y + 10, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByRole("complementary", { name: "Ledger" })).toHaveCount(0);
  await page.mouse.move(box.x + 3, y, { steps: 4 });
  await expect(page.getByRole("complementary", { name: "Ledger" })).toBeVisible();
  await expect(parts.last()).toHaveText(/^Softened, 1 stroke/);
  await pressed(page, "Panels give way while painting").click();

  await page.mouse.move(x, y);
  await page.keyboard.press(".");
  await expect(pressed(page, "Straighten 15°")).toBeVisible();
  await exact(page);
  await noViolations(page, "Compose, parts in groups");
  await pressed(page, "Straighten 15°").click();

  // a corner is pulled on the picture
  await pressed(page, "Values").click();
  await pressed(page, "Move and pull corners on the picture").click();
  await exact(page);
  const size: [number, number] = [1800, 1200];
  const [cx, cy] = await placeOf(page, size, 0, 0);
  await page.mouse.move(cx + 2, cy + 2);
  await page.mouse.down();
  await page.mouse.move(cx + 42, cy + 2, { steps: 5 });
  await page.mouse.up();
  const pulled = Number(await page.getByRole("textbox", { name: "Top left corner across, px", exact: true }).inputValue());
  expect(pulled).toBeGreaterThan(60);
  await expect(page.getByRole("textbox", { name: "Top right corner across, px", exact: true })).toHaveValue("0.0");
});
