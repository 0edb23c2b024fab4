// Takes the pictures of /tmp/shots from the demo job in a running application: node scripts/screenshots.mjs http://localhost:3000
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
  await page.screenshot({ path: `/tmp/shots/${name}.png` });
};
const named = (name) => page.getByRole("button", { name, exact: true }).or(page.getByRole("radio", { name, exact: true }));
const press = (name) => named(name).click();
const pick = async (label, option) => {
  await page
    .getByRole("button", { name: new RegExp(`(^|\\s)${label}$`) })
    .first()
    .click();
  await page.getByRole("option", { name: option, exact: true }).click();
};


await page.goto(`${address}/?demo=heron`);
await page.getByRole("heading", { name: "2 sets" }).waitFor({ timeout: 120000 });
await page.waitForFunction(() => ![...document.querySelectorAll("button")].some((b) => b.textContent === "Stop"));
await page.getByRole("button", { name: "Work on this set" }).click();
await page.getByRole("tab", { name: "Register" }).or(page.getByRole("button", { name: "Register" })).or(page.getByRole("link", { name: "Register" })).first().click();
await page.getByRole("button", { name: "Use it as the picture" }).click();
await page.getByRole("button", { name: "Cut out" }).click();
await page.getByRole("menuitem", { name: /Frame 2/ }).click();
await settle();
await page.getByText("A clean plate", { exact: true }).click();
await page.getByRole("button", { name: /The same view without it/ }).click();
await page.getByRole("option", { name: "Frame 3" }).click();
await page.getByRole("heading", { name: "What was cut" }).waitFor({ timeout: 60000 });
await settle();
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
await page.getByRole("row", { name: /Plate/ }).first().click();
await page.getByRole("heading", { name: "Lamps" }).scrollIntoViewIfNeeded();
await press("Look for lamps"); await page.waitForTimeout(3000);
await shot("lamps1");
await tool("Mark a lamp");
await drag([500, 500], [520, 500]);
await shot("lamps2");
await press("Light the ground"); await page.waitForTimeout(2000);
await press("Lay its glow"); await page.waitForTimeout(2500);
await shot("lamps3");
await page.getByRole("row", { name: /Cut-out/ }).first().click();
await page.getByRole("heading", { name: "Lamps on it" }).scrollIntoViewIfNeeded();
await shot("lamps4");
await press("Lay its light"); await page.waitForTimeout(2000);
await page.getByRole("group", { name: "1. Lamp" }).getByRole("button", { name: "Lay its shadow" }).click(); await page.waitForTimeout(3000);
await press("Turn its light"); await page.waitForTimeout(3000);
for (const n of await page.getByRole("button", { name: "Dismiss" }).all()) await n.click();
await press("1:1"); await page.waitForTimeout(2500);
await shot("lamps5");
await context.close();
