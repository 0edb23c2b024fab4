/** Cutting through the real interface: a heron on to a walk by a box, by strokes and by a clean plate; the light of one lamp added to another's. */
import { expect, test, type BrowserContext, type Page } from "@playwright/test";
import { join } from "node:path";
import { exact, noViolations, openBrowser, openWalk, pageOf, placeOf, quiet, stage, temporaryFolder } from "./support";

const folder = temporaryFolder();
const WALK: [number, number] = [1800, 1200];
const JUGS: [number, number] = [1500, 1000];
/** The heron's frame lies in the middle of the walk, no larger than it. */
const onWalk = (x: number, y: number): [number, number] => [450 + 0.75 * x, 0.75 * y];
let context: BrowserContext;

test.beforeEach(async ({}, info) => {
  context = await openBrowser(join(folder, String(info.line)));
});
test.afterEach(() => context.close());

async function drag(page: Page, size: [number, number], places: [number, number][]): Promise<void> {
  const at = await Promise.all(places.map(([x, y]) => placeOf(page, size, x, y)));
  await page.mouse.move(...at[0]);
  await page.mouse.down();
  for (const p of at.slice(1)) await page.mouse.move(...p, { steps: 6 });
  await page.mouse.up();
}

/** Output values, sRGB, at a place of the picture, once they are as wanted. */
async function valuesAt(page: Page, size: [number, number], x: number, y: number, wanted: (v: number[]) => boolean): Promise<void> {
  const [sx, sy] = await placeOf(page, size, x, y);
  const line = page.locator("span", { hasText: /^sRGB/ });
  await expect
    .poll(
      async () => {
        await exact(page);
        await page.mouse.move(sx + 2, sy);
        await page.mouse.move(sx, sy);
        await page.waitForTimeout(600);
        const values = (await line.innerText()).split(/\s+/).slice(1, 4).map(Number);
        return wanted(values) ? "as wanted" : values.join(" ");
      },
      { timeout: 60_000 },
    )
    .toBe("as wanted");
}

test("a heron is cut out by a box and strokes, then by a clean plate, and stands on the walk", async () => {
  const page = await openWalk(context);
  const [neck, tail, sky] = [onWalk(655, 330), onWalk(640, 1010), onWalk(380, 700)];
  const isBlueGrey = ([r, , b]: number[]) => b > r - 12;
  const isWood = ([r, , b]: number[]) => r > b + 40;
  // before a box is drawn all of the frame is shown
  await valuesAt(page, WALK, ...onWalk(900, 600), isWood);
  await drag(page, WALK, [onWalk(250, 90), onWalk(1110, 1280)]);
  await quiet(page);
  await expect(page.getByRole("definition").first()).toBeVisible({ timeout: 60_000 });
  await valuesAt(page, WALK, ...neck, isWood);
  await valuesAt(page, WALK, ...onWalk(1050, 140), isBlueGrey);
  await page.getByText("Edges by numbers", { exact: true }).click();
  await expect(page.getByRole("textbox", { name: "Box, width" })).toHaveValue(/^8[56]\d$/);
  await noViolations(page, "cut out");

  // strokes: one leaves the neck, which goes; undo brings it back
  await page.getByText("Leave", { exact: true }).click();
  const size = page.getByRole("textbox", { name: "Size" }).first();
  await size.fill("40");
  await size.press("Enter");
  await drag(page, WALK, [onWalk(650, 300), onWalk(652, 420)]);
  await expect(page.getByText("1 stroke", { exact: true })).toBeVisible();
  await valuesAt(page, WALK, ...neck, isBlueGrey);
  await page.getByRole("button", { name: "Undo" }).click();
  await valuesAt(page, WALK, ...neck, isWood);

  // the same view without it tells more: the tail as well
  await page.getByText("A clean plate", { exact: true }).click();
  await page.getByRole("button", { name: /The same view without it/ }).click();
  await page.getByRole("option", { name: "Frame 3" }).click();
  await quiet(page);
  await valuesAt(page, WALK, ...onWalk(690, 480), isWood);
  await valuesAt(page, WALK, ...sky, () => true);
  await valuesAt(page, WALK, ...tail, ([r, g, b]) => r + g + b < 330);

  // it is put down, blends as light, and Proof looks at it
  await page.getByText("Move and pull corners on the picture").click();
  await drag(page, WALK, [onWalk(600, 700), [onWalk(600, 700)[0], onWalk(600, 700)[1] + 150]]);
  await valuesAt(page, WALK, neck[0], neck[1] + 150, isWood);
  await page.getByText("Layer", { exact: true }).click();
  await expect(page.getByRole("radio", { name: "Light", exact: true })).toBeChecked();
  await stage(page, "Proof");
  await quiet(page);
  await expect(page.getByText(/Cut-out of frame 2/).first()).toBeVisible({ timeout: 60_000 });

  // all of it is there after a reload
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.reload();
  await stage(page, "Compose");
  await valuesAt(page, WALK, neck[0], neck[1] + 150, isWood);

  // what was cut is saved with alpha, and comes back as a picture that shows what its alpha says; nothing that was made is lost for it
  const values = page.getByText("Values", { exact: true });
  await values.click();
  const waiting = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save for other jobs" }).click();
  await page.getByRole("menuitem", { name: /16-bit TIFF/ }).click();
  const file = join(folder, "heron.tif");
  await (await waiting).saveAs(file);
  await page.getByRole("button", { name: "Undo" }).click();
  await page.locator('input[type="file"]').last().setInputFiles(file);
  await expect(page.getByRole("radio", { name: "Its own alpha" })).toBeChecked({ timeout: 60_000 });
  await quiet(page);
  await expect(page.getByRole("button", { name: /^Merge:/ })).toContainText("one frame as base");
  await valuesAt(page, WALK, 60, 60, isBlueGrey);
  await expect(page.getByText("Old background in the rim")).toBeVisible({ timeout: 60_000 });
});

test("the light of a lamp that shone alone is added to the other's", async () => {
  const page = await pageOf(context);
  await page.goto("http://localhost:3217/?demo=jugs");
  // lit from the other side the first frame is not like the others: it is a set of its own
  await expect(page.getByRole("heading", { name: "2 sets" })).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await page.getByRole("button", { name: "Work on this set" }).click();
  await stage(page, "Register");
  await page.getByRole("button", { name: "Use it as the picture" }).click();
  await page.getByRole("button", { name: "Another picture" }).click();
  await page.getByRole("menuitem", { name: /jugs-2/ }).click();
  await exact(page);
  // beside the grey jug the wall is lit by the left lamp alone, and its handle by the right one
  const [wall, handle] = [
    [560, 130],
    [940, 470],
  ] as const;
  await valuesAt(page, JUGS, ...wall, () => true);
  await page.getByRole("button", { name: "Add only its light" }).click();
  await expect(page.getByRole("heading", { name: "Added as light" })).toBeVisible();
  const black = page.getByRole("textbox", { name: "Black level" });
  await black.fill("0");
  await black.press("Enter");
  const sum = ([r, g, b]: number[]) => r + g + b;
  let both = 0;
  await valuesAt(page, JUGS, ...handle, (v) => (both = sum(v)) > 0);
  await noViolations(page, "added light");
  // without the layer there is only the left lamp
  await page.getByText("Layer", { exact: true }).click();
  const opacity = page.getByRole("textbox", { name: "Opacity" });
  await opacity.fill("0");
  await opacity.press("Enter");
  await valuesAt(page, JUGS, ...handle, (v) => sum(v) < both - 20);
});
