// Takes the pictures of docs/screenshots from the demo job in a running application: node scripts/screenshots.mjs http://localhost:3000
import { chromium } from "@playwright/test";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

const address = process.argv[2] ?? "http://localhost:3000";
const context = await chromium.launchPersistentContext(mkdtempSync(join(tmpdir(), "marsh-shots-")), {
  executablePath: "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
  viewport: { width: 1280, height: 800 },
});
const page = context.pages()[0];
context.setDefaultTimeout(90_000);
const settle = async () => {
  await page.waitForTimeout(500);
  await page.waitForSelector("[data-exact=true]");
  await page.waitForTimeout(300);
};
const shot = async (name) => {
  await settle();
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
};
const quiet = () => page.waitForFunction(() => ![...document.querySelectorAll("button")].some((b) => b.textContent === "Stop"));
const named = (name) => page.getByRole("button", { name, exact: true }).or(page.getByRole("radio", { name, exact: true }));
const press = (name) => named(name).click();
const pick = async (label, option) => {
  await page
    .getByRole("button", { name: new RegExp(`(^|\\s)${label}$`) })
    .first()
    .click();
  await page.getByRole("option", { name: option, exact: true }).click();
};

await page.goto(`${address}/`);
await page.getByRole("button", { name: "Open Pump-house doorway" }).waitFor();
await page.waitForTimeout(1500);
await page.screenshot({ path: "docs/screenshots/jobs.png" });
await page.getByRole("button", { name: "Open Pump-house doorway" }).click();
await page.waitForSelector("text=Exposure bracket, 5 frames");
await page.getByRole("button", { name: "Compare again" }).waitFor({ timeout: 120_000 });
await page.waitForTimeout(1500);
await shot("gather");
await page.keyboard.press("3");
await press("Register 5 frames");
await page.waitForSelector("text=5 frames aligned");
await press("Residual");
await page.getByRole("row", { name: /^4 / }).click();
await shot("register");
await page.keyboard.press("4");
await press("Merge 5 frames");
await page.waitForSelector("text=Radiance merge in use");
await page.waitForFunction(() => ![...document.querySelectorAll("button")].some((b) => b.textContent === "Stop"));
await page.waitForTimeout(1500);
const places = page.getByRole("grid", { name: "Places that moved" }).getByRole("row");
await places.nth(1).click();
await page.waitForTimeout(1500);
await shot("merge");
await page.keyboard.press("5");
await settle();
await press("Frame 5");
const box = await page.getByRole("img").boundingBox();
/** Where a place of the picture, as wide as 678 px, lies on the screen. */
const onScreen = ([x, y]) => {
  const scale = (box.width - 6) / 678;
  return [box.x + 3 + (x - 14) * scale, box.y + box.height / 2 + (y - 322) * scale];
};
const stroke = async (wanted) => {
  const points = wanted.map(onScreen);
  await page.mouse.move(...points[0]);
  await page.mouse.down();
  for (const [x, y] of points.slice(1)) await page.mouse.move(x, y, { steps: 6 });
  await page.mouse.up();
  await page.waitForTimeout(400);
};
const size = page.getByRole("textbox", { name: "Size, px" });
await size.fill("110");
await size.press("Enter");
await page.keyboard.press("Escape");
await stroke([
  [192, 305],
  [204, 310],
  [192, 322],
  [206, 330],
  [192, 342],
  [206, 350],
]);
const value = async (name, v, nth = 0) => {
  const field = page.getByRole("textbox", { name, exact: typeof name === "string" }).nth(nth);
  await field.fill(v);
  await field.press("Enter");
  await page.waitForTimeout(300);
};
const add = async (menu, item) => {
  await press(`${menu} ▾`);
  await page
    .getByRole("menuitem")
    .filter({ has: page.getByText(item, { exact: true }) })
    .click();
  await settle();
};
await press("Values");
await value("Exposure, EV", "-3.2");
await add("Adjustment", "Hue band");
await value("Chroma, %", "125");
await press("Mask");
await add("Add a part", "Luminance range");
await add("Add a part", "Linear gradient");
await value("Follows edges within, px", "12");
await press("Mask overlay");
await page.waitForTimeout(2500);
await shot("masks");
await press("Result");
await add("Adjustment", "Light falloff");
await value("At the corners, EV", "-0.8");
await add("Adjustment", "Tonal zones");
// zones are called by the light they lie at
await value(/^At .*, EV$/, "0.6", 1);
await value(/^At .*, EV$/, "-0.3", 3);
await page.evaluate(() => document.activeElement?.blur());
await page.mouse.move(...onScreen([204, 330]));
await page.waitForTimeout(3000);
await shot("compose");
await page.keyboard.press("6");
await settle();
const lift = page.getByRole("textbox", { name: "Exposure, EV" });
await lift.fill("1.2");
await lift.press("Enter");
await press("This is neutral");
await page.mouse.click(...onScreen([318, 425]));
await page.waitForTimeout(800);
await pick("Curve", "Toe and shoulder");
await page.waitForTimeout(600);
const even = page.getByRole("textbox", { name: "Strength, %" });
await even.fill("30");
await even.press("Enter");
await page.keyboard.press("Escape");
await page.waitForTimeout(800);
await page.getByRole("button", { name: /^Proof:/ }).click();
await page.getByText(/open finding|Nothing open/).waitFor();
await shot("proof");
await page.keyboard.press("8");
const [file] = await Promise.all([page.waitForEvent("download"), press("Write TIF")]);
await file.path();
await shot("handover");
await page.keyboard.press("l");
await page.waitForTimeout(700);
await page.screenshot({ path: "docs/screenshots/logbook.png" });
// a set with a difference
await page.goto(`${address}/?demo=creek-lens`);
await page.getByText("holds up registering").waitFor({ timeout: 120_000 });
await shot("parity");
// four lights of one scene, woven
await page.goto(`${address}/?demo=creek`);
await page
  .getByText(/, 4 frames/)
  .first()
  .waitFor({ timeout: 120_000 });
await page.keyboard.press("3");
await press("Register 4 frames");
await page.waitForSelector("table[aria-label=Registration]", { timeout: 240_000 });
await page.keyboard.press("4");
await press("Merge 4 frames");
await page.getByRole("heading", { name: "What each frame gives" }).waitFor({ timeout: 240_000 });
await page.keyboard.press("5");
await press("Weave the frames");
await page.getByRole("grid", { name: "Regions and frames" }).waitFor({ timeout: 120_000 });
await settle();
{
  const box = await page.locator("[data-exact]").boundingBox();
  await page.mouse.click(box.x + box.width * 0.25, box.y + box.height * 0.45);
}
await page.getByRole("heading", { name: "At the place pressed on" }).waitFor();
await page.waitForTimeout(1500);
await shot("weave");
await page.goto(`${address}/?demo=barometer`);
await page.waitForSelector("text=Focus stack, 8 frames", { timeout: 120_000 });
await page.waitForFunction(() => ![...document.querySelectorAll("button")].some((b) => b.textContent === "Stop"));
await page.keyboard.press("3");
await press("Register 8 frames");
await page.getByText("8 frames aligned").waitFor({ timeout: 200_000 });
await page.keyboard.press("4");
await press("Merge 8 frames");
await page.waitForSelector("text=Focus merge in use");
await page.waitForTimeout(1500);
await shot("focus");
// an arm of the wooden figure comes from another frame
const idle = () => page.waitForFunction(() => ![...document.querySelectorAll("button")].some((b) => b.textContent === "Stop"));
await page.goto(`${address}/?demo=figure`);
await page
  .getByText(/, 2 frames/)
  .first()
  .waitFor({ timeout: 120_000 });
await idle();
await page.keyboard.press("3");
await press("Register 2 frames");
await page.waitForSelector("table[aria-label=Registration]");
await idle();
await page.keyboard.press("4");
await press("Merge 2 frames");
await page.waitForSelector("text=Exposure fusion in use");
await idle();
await page.keyboard.press("5");
await settle();
await press("Swap parts");
await press("Frame 1");
await page.waitForTimeout(500);
await idle();
await settle();
const figure = await page.locator("[data-exact]").boundingBox();
const onFigure = Math.min((figure.width - 6) / 1620, (figure.height - 6) / 1080);
const boxOn = async (x, y, width, height) => {
  const at = (u, v) => [figure.x + figure.width / 2 + (u - 810) * onFigure, figure.y + figure.height / 2 + (v - 540) * onFigure];
  await page.mouse.move(...at(x, y));
  await page.mouse.down();
  await page.mouse.move(...at(x + width, y + height), { steps: 6 });
  await page.mouse.up();
  await page.waitForTimeout(800);
  await idle();
};
const takePart = async (name) => {
  await page.getByRole("button", { name }).click();
  await page.waitForTimeout(500);
  await idle();
};
await boxOn(230, 12, 460, 338);
await takePart(/^Part 1 from frame 2/);
await boxOn(515, 275, 250, 365);
await page.getByText("Draw what has to fit", { exact: true }).click();
await boxOn(765, 300, 115, 145);
await takePart(/^Part 2 from frame 2/);
await page.waitForTimeout(3000);
await shot("swap");
// overlapping frames laid out, compared and joined
await page.goto(`${address}/?demo=boardwalk`);
await page.waitForSelector("text=Panorama, 5 frames", { timeout: 120_000 });
await idle();
await page.keyboard.press("3");
await press("Lay out 5 frames");
await page.getByRole("heading", { name: /^5 frames aligned/ }).waitFor({ timeout: 200_000 });
await idle();
await settle();
const walk = await page.locator("[data-exact]").boundingBox();
await press("Must stay");
// as shares of the laid out picture, some 3.9 times as wide as high: hut, wind pump, walk
const wide = Math.min(walk.width - 6, (walk.height - 6) * 3.898);
for (const [x, y] of [
  [0.44, 0.43],
  [0.6, 0.37],
  [0.49, 0.88],
]) {
  await page.mouse.click(walk.x + walk.width / 2 + (x - 0.5) * wide, walk.y + walk.height / 2 + ((y - 0.5) * wide) / 3.898);
  await page.waitForTimeout(400);
}
await press("Must stay");
await pick("Ratio", "2:1");
await page.getByText(/^Room to the border/).waitFor();
await page.getByLabel("Bench").getByRole("button", { name: "Use" }).click();
await press("Frames");
await shot("panorama");
await press("Projections");
await page.waitForTimeout(8000);
await page.screenshot({ path: "docs/screenshots/projections.png" });
await page.keyboard.press("4");

// a heron that was photographed elsewhere stands on the walk
await page.goto(`${address}/?demo=heron`);
await page.getByRole("heading", { name: "2 sets" }).waitFor({ timeout: 120_000 });
await page.waitForFunction(() => ![...document.querySelectorAll("button")].some((b) => b.textContent === "Stop"));
await press("Work on this set");
await page.keyboard.press("3");
await press("Use it as the picture");
await page.getByRole("button", { name: "Cut out" }).click();
await page.getByRole("menuitem", { name: /Frame 2/ }).click();
await page.getByText("A clean plate", { exact: true }).click();
await page.getByRole("button", { name: /The same view without it/ }).click();
await page.getByRole("option", { name: "Frame 3" }).click();
await page.waitForTimeout(1500);
await page.waitForFunction(() => ![...document.querySelectorAll("button")].some((b) => b.textContent === "Stop"));
await page.getByRole("heading", { name: "What was cut" }).waitFor({ timeout: 60_000 });
for (const [name, value] of [
  ["Size", "55"],
  ["Down", "270"],
  ["To the right", "-30"],
]) {
  const field = page.getByRole("textbox", { name }).last();
  await field.fill(value);
  await field.press("Enter");
}
await page.getByText("Cut out", { exact: true }).last().scrollIntoViewIfNeeded();
await page.waitForTimeout(3000);
await shot("cut");
// the plate told by the edges of the walk and a post, its light by the post's shadow, and the heron on its ground
await press("Seat in the plate");
await settle();
const plate = await page.getByRole("img", { name: "Seat" }).boundingBox();
const fit = Math.min(plate.width / 1800, plate.height / 1200) * 0.99;
const onPlate = (x, y) => [plate.x + plate.width / 2 + (x - 900) * fit, plate.y + plate.height / 2 + (y - 600) * fit];
const drag = async (from, to) => {
  await page.mouse.move(...onPlate(...from));
  await page.mouse.down();
  await page.mouse.move(...onPlate(...to), { steps: 6 });
  await page.mouse.up();
  await settle();
};
const tool = (name) => page.getByText(name, { exact: true }).first().click();
await tool("Level, away");
await drag([590, 1190], [706, 560]);
await drag([1250, 1190], [896, 660]);
await tool("Upright line");
await drag([683, 775], [683, 612]);
await tool("Mark a shadow");
for (const place of [
  [684, 826],
  [684, 590],
  [1040, 768],
]) {
  await page.mouse.click(...onPlate(...place));
  await page.waitForTimeout(300);
}
await tool("View");
await page.getByRole("button", { name: "Seat a layer" }).click();
await page.getByRole("menuitem").first().click();
await page.getByRole("textbox", { name: "How tall it is" }).fill("1.3");
await page.getByRole("textbox", { name: "How tall it is" }).press("Enter");
await drag([900, 950], [840, 1000]);
await page.waitForTimeout(2500);
await press("Lay its shadow");
for (const notice of await page.getByRole("button", { name: "Dismiss" }).all()) await notice.click();
await page.waitForTimeout(1500);
await press("Compare with the plate");
await page.getByRole("table", { name: "Tone and colour" }).waitFor();
await page.getByRole("heading", { name: "Tone and colour" }).evaluate((e) => e.scrollIntoView({ block: "start" }));
await shot("seat");

// a storm's sky behind the pump house
await page.goto(`${address}/?demo=storm`);
await page.getByRole("heading", { name: "2 sets" }).waitFor();
await idle();
await press("Work on this set");
await page.getByRole("button", { name: /^Register:/ }).click();
await press("Use it as the picture");
await page.getByRole("button", { name: /^Compose:/ }).click();
await press("Seat in the plate");
await settle();
await page.getByRole("button", { name: "Take its sky" }).click();
await page.getByRole("menuitem", { name: /storm-1/ }).click();
await press("To the sky");
await page.waitForTimeout(2000);
await shot("sky");

// this year's bracket with last year's look
await page.goto(`${address}/?demo=septembers`);
await page
  .getByText(/, 3 frames/)
  .first()
  .waitFor();
await quiet();
await page.getByRole("button", { name: /^Register:/ }).click();
await press("Register 3 frames");
await page.waitForSelector("table[aria-label=Registration]");
await quiet();
await page.getByRole("button", { name: /^Merge:/ }).click();
await press("Merge 3 frames");
await page.getByRole("heading", { name: "What each frame gives" }).waitFor();
await quiet();
await page.getByRole("button", { name: /^Finish:/ }).click();
await settle();
await press("Compare");
await page.getByText(/Both show the same view/).waitFor();
await press("Take this look");
await press("Side by side");
await page.getByText(/Both show the same view/).scrollIntoViewIfNeeded();
await page.getByRole("button", { name: "Take this look instead" }).scrollIntoViewIfNeeded();
await shot("finish");
await context.close();
