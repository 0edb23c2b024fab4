/** Light and air on what is seated, through the real interface: a lamp and all that it does, the thing's own light turned, its sharpness, mist, another sky. */
import { expect, test, type BrowserContext } from "@playwright/test";
import { join } from "node:path";
import { dragOn, exact, mergePlateAlone, noViolations, openBrowser, openSeat, pageOf, pick, placeOf, quiet, stage, temporaryFolder, tool } from "./support";

const SIZE: [number, number] = [1800, 1200];
const folder = temporaryFolder();
let context: BrowserContext;

test.beforeEach(async ({}, info) => {
  context = await openBrowser(join(folder, String(info.line)));
});
test.afterEach(() => context.close());

test("one lamp gives light on the heron and the ground, shadow, glow and beam; mist lies over it, and the sky is exchanged", async () => {
  const page = await openSeat(context);
  await tool(page, "Level, away");
  await dragOn(page, SIZE, [590, 1190], [706, 560]);
  await dragOn(page, SIZE, [1250, 1190], [896, 660]);
  await page.getByRole("button", { name: "Seat a layer" }).click();
  await page.getByRole("menuitem").first().click();
  await expect(page.getByRole("row", { name: /^1 Cut-out of frame 2/ })).toContainText("on the ground", { timeout: 60_000 });
  await page.getByRole("row", { name: /^Plate/ }).click();

  // glints in the reeds by day are no lamps
  await page.getByRole("button", { name: "Look for lamps" }).click();
  await expect(page.getByText(/Nothing here is far brighter/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Dismiss" }).last().click();
  await tool(page, "Mark a lamp");
  await dragOn(page, SIZE, [500, 500], [520, 500]);
  const lamp = page.getByRole("row", { name: /^2 Lamp/ });
  await expect(lamp).toContainText("5.0 m");
  const away = page.getByRole("textbox", { name: "Away" });
  await away.fill("4");
  await away.press("Enter");
  await expect(lamp).toContainText("4.0 m");
  await page
    .getByRole("radio", { name: "Fire" })
    .or(page.getByRole("button", { name: "Fire", exact: true }))
    .first()
    .click();
  await expect(page.getByRole("row", { name: /^2 Fire/ })).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await noViolations(page, "a lamp");
  await page.getByRole("button", { name: "Light the ground" }).click();
  await page.getByRole("button", { name: "Lay its glow" }).click();
  await expect(page.getByRole("button", { name: "To its glow" })).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Lay a beam" }).click();
  await exact(page);

  await page.getByRole("row", { name: /^1 Cut-out of frame 2/ }).click();
  const onIt = page.getByRole("group", { name: "1. Lamp" });
  await onIt.getByRole("button", { name: "Lay its light" }).click();
  await expect(onIt.getByRole("button", { name: "To its light" })).toBeVisible();
  await onIt.getByRole("button", { name: "Lay its shadow" }).click();
  await expect(onIt.getByRole("button", { name: "Lay its shadow" })).toHaveCount(0);
  const blur = page.getByRole("textbox", { name: "Out of focus by" });
  await blur.fill("3");
  await blur.press("Enter");
  await exact(page);
  await noViolations(page, "light on a thing");
  // its tones beside those of the plate around it, brought nearer by a step, and taken back
  await page.getByRole("button", { name: "Compare with the plate" }).click();
  await expect(page.getByRole("table", { name: "Tone and colour" })).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Bring its tones nearer" }).click();
  await quiet(page);
  await expect(page.getByText("Something was changed since it was compared.")).toHaveCount(0);
  await noViolations(page, "tone and colour");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("Something was changed since it was compared.")).toBeVisible();
  // the plate's light over its rim, and the whole picture focused on it
  await page.getByRole("button", { name: "Let the plate's light over its rim" }).click({ timeout: 60_000 });
  await expect(page.getByRole("button", { name: "To the light over its rim" })).toBeVisible();
  await page.getByRole("button", { name: "Focus the picture here" }).click();
  await expect(page.getByRole("button", { name: "To the depth of field" })).toBeVisible();
  await exact(page);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("button", { name: "To the depth of field" })).toHaveCount(0);

  // mist over all of it, from the menu of layers
  await page.getByRole("button", { name: "Back to the layers" }).click();
  await page.getByRole("button", { name: /^Other/ }).click();
  await page.getByRole("menuitem", { name: /^Mist/ }).click();
  await expect(page.getByText(/goes into it by how far away/)).toBeVisible();
  await tool(page, "Lies on the ground");
  await expect(page.getByRole("textbox", { name: "Half as thick at" })).toBeVisible();
  await page.getByRole("button", { name: "As the plate's horizon" }).click();
  await quiet(page);
  await exact(page);
  await noViolations(page, "mist");

  // all of it is there after a reload; the lamp goes with what it does
  await page.waitForTimeout(500);
  await page.reload();
  await exact(page);
  await expect(page.getByText("Beam of a lamp").first()).toBeVisible();
  await page.getByRole("button", { name: "Seat in the plate" }).click();
  await page.getByRole("row", { name: /^2 Lamp/ }).click();
  await page.getByRole("button", { name: "Remove it" }).click();
  await expect(page.getByRole("row", { name: /^2 Lamp/ })).toHaveCount(0);
  await page.getByRole("button", { name: "Back to the layers" }).click();
  await expect(page.getByText("Beam of a lamp")).toHaveCount(0);

  // another sky from a file
  await page.locator('input[type="file"]').last().setInputFiles("tests/fixtures/twoSkies/01-sky.jpg");
  await expect(page.getByRole("row", { name: /01-sky/ })).toBeVisible({ timeout: 60_000 });
  await quiet(page);
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Redo" }).click();
  await page.getByRole("button", { name: "Seat in the plate" }).click();
  await page.getByRole("row", { name: /^Plate/ }).click();
  await page.getByRole("button", { name: "Take its sky" }).click();
  await page.getByRole("menuitem", { name: /01-sky/ }).click();
  await expect(page.getByRole("button", { name: "To the sky" })).toBeVisible({ timeout: 60_000 });
  await exact(page);
  await page.getByRole("button", { name: "To the sky" }).click();
  await expect(page.getByLabel("The other sky")).toContainText("%");
  await noViolations(page, "another sky");
  await stage(page, "Proof");
});

test("a moon is cut out, set in the sky larger on purpose, glows and is mirrored in the water around the landing", async () => {
  const page = await pageOf(context);
  const LANDING: [number, number] = [1500, 1000];
  await page.goto("http://localhost:3217/?demo=moon");
  await expect(page.getByText("2 frames").first()).toBeVisible({ timeout: 120_000 });
  await mergePlateAlone(page);
  await page.getByRole("button", { name: "Cut out" }).click();
  await page.getByRole("menuitem", { name: /Frame 2/ }).click();
  await exact(page);
  await page.getByText("An even backdrop", { exact: true }).click();
  await expect(page.getByRole("heading", { name: "What was cut" })).toBeVisible({ timeout: 60_000 });
  await quiet(page);
  await page.getByRole("button", { name: "Seat in the plate" }).click();
  await exact(page);
  await tool(page, "Pull it");
  await dragOn(page, LANDING, [750, 500], [750, 327]);
  await tool(page, "Mark water");
  for (const place of [
    [4, 360],
    [450, 360],
    [450, 970],
    [4, 970],
  ] as [number, number][])
    await page.mouse.click(...(await placeOf(page, LANDING, ...place)));
  await expect(page.getByRole("textbox", { name: "1. Water" })).toBeVisible();
  await page.getByRole("button", { name: "Seat a layer" }).click();
  await page.getByRole("menuitem").first().click();
  const moon = page.getByRole("row", { name: /^1 Cut-out of frame 2/ });
  await expect(moon).toBeVisible({ timeout: 60_000 });
  await tool(page, "In the sky");
  await expect(moon).toContainText("0.53°");
  const larger = page.getByRole("textbox", { name: "Shown larger" });
  await larger.fill("4");
  await larger.press("Enter");
  await expect(moon).toContainText("2.12°");
  await dragOn(page, LANDING, [750, 800], [255, 130]);
  await page.getByRole("button", { name: "Lay its reflection" }).click();
  await expect(page.getByRole("button", { name: "To its reflection" })).toBeVisible({ timeout: 60_000 });
  await page.getByRole("row", { name: /^Plate/ }).click();
  await tool(page, "Mark a lamp");
  await dragOn(page, LANDING, [255, 130], [285, 130]);
  await tool(page, "Moon");
  const shining = page.getByRole("row", { name: /^2 Moon/ });
  await expect(shining).toContainText("in the sky");
  await page.getByRole("button", { name: "Lay its glow" }).click();
  await expect(page.getByRole("button", { name: "To its glow" })).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Mirror it in water 1" }).click();
  await expect(page.getByRole("button", { name: "To its light in water 1" })).toBeVisible();
  await exact(page);
  await noViolations(page, "a moon");
  await page.getByRole("row", { name: /^Plate/ }).click();
  await page.getByRole("button", { name: "Smooth this water" }).click();
  await page.getByRole("button", { name: "To the smoothed water" }).click();
  const length = page.getByRole("textbox", { name: "Patch, away" });
  await length.fill("2");
  await length.press("Enter");
  await exact(page);
  await noViolations(page, "smoothed water");
});

test("a storm's sky behind the pump house, lightning added as light, and a window that shines", async () => {
  const page = await pageOf(context);
  const HOUSE: [number, number] = [1500, 1000];
  await page.goto("http://localhost:3217/?demo=storm");
  await expect(page.getByRole("heading", { name: "2 sets" })).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await page.getByRole("button", { name: "Work on this set" }).click();
  await stage(page, "Register");
  await page.getByRole("button", { name: "Use it as the picture" }).click();
  await stage(page, "Compose");
  await page.getByRole("button", { name: "Seat in the plate" }).click();
  await exact(page);
  await page.getByRole("button", { name: "Take its sky" }).click();
  await page.getByRole("menuitem", { name: /storm-1/ }).click();
  await expect(page.getByRole("button", { name: "To the sky" })).toBeVisible({ timeout: 60_000 });
  await tool(page, "Mark a lamp");
  await dragOn(page, HOUSE, [700, 560], [725, 560]);
  await tool(page, "Window");
  await page.getByRole("button", { name: "Lay its glow" }).click();
  await expect(page.getByRole("button", { name: "To its glow" })).toBeVisible({ timeout: 60_000 });
  // one step takes back what was measured with the first lamp, and one gives it again
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("button", { name: "Lay its glow" })).toBeVisible();
  await page.getByRole("button", { name: "Redo" }).click();
  await page.getByRole("button", { name: "Back to the layers" }).click();
  await page.getByRole("button", { name: /^Another picture/ }).click();
  await page.getByRole("menuitem", { name: /storm-2/ }).click();
  await page
    .getByRole("radio", { name: "Layer" })
    .or(page.getByRole("button", { name: "Layer", exact: true }))
    .first()
    .click();
  await pick(page, "Blends", "Add light");
  await exact(page);
  await noViolations(page, "a storm");
  await stage(page, "Proof");
  await expect(page.getByRole("button", { name: /^Proof:/ })).toBeVisible();
});
