/** Parts from another frame through the real interface: an arm of the wooden figure that only its shoulder holds; a later picture that is laid over. */
import { expect, test, type BrowserContext, type Page } from "@playwright/test";
import { join } from "node:path";
import { exact, noViolations, openBrowser, openMerge, placeOf, quiet, stage, temporaryFolder } from "./support";

const SIZE: [number, number] = [1620, 1080];
const folder = temporaryFolder();
let context: BrowserContext;

test.beforeEach(async ({}, info) => {
  context = await openBrowser(join(folder, String(info.line)));
});
test.afterEach(() => context.close());

async function drag(page: Page, from: [number, number], to: [number, number]): Promise<void> {
  const [a, b] = [await placeOf(page, SIZE, ...from), await placeOf(page, SIZE, ...to)];
  await page.mouse.move(...a);
  await page.mouse.down();
  await page.mouse.move(...b, { steps: 6 });
  await page.mouse.up();
}

/** Waits until output values, sRGB, at a place are as wanted. */
async function shows(page: Page, [x, y]: [number, number], what: "wood" | "wall"): Promise<void> {
  const [sx, sy] = await placeOf(page, SIZE, x, y);
  const line = page.locator("span", { hasText: /^sRGB/ });
  const read = async () => {
    await exact(page);
    await page.mouse.move(sx + 2, sy);
    await page.mouse.move(sx, sy);
    await page.waitForTimeout(400);
    const [r, , b] = (await line.innerText()).split(/\s+/).slice(1, 4).map(Number);
    return r - b > 45 ? "wood" : "wall";
  };
  await expect.poll(read, { timeout: 60_000 }).toBe(what);
}

test("an arm comes from another frame in a few actions, hangs on its shoulder, and goes again", async () => {
  const page = await openMerge(context, "figure", 2);
  await stage(page, "Compose");
  await exact(page);
  let actions = 0;
  const act = async (doing: Promise<void>) => {
    await doing;
    actions++;
  };
  await page.getByRole("button", { name: "Swap parts" }).click();
  // merged of both, what moved shows double: that is told, and mended
  await page.getByRole("button", { name: "Frame 1", exact: true }).click();
  await quiet(page);
  const [hand, newArm]: [number, number][] = [
    [395, 105],
    [690, 418],
  ];
  await shows(page, hand, "wood");
  await shows(page, newArm, "wall");
  await act(drag(page, [230, 12], [690, 350]));
  const row = (part: number, frame: number) => page.getByRole("button", { name: new RegExp(`^Part ${part} from frame ${frame}`) });
  await expect(row(1, 2)).toBeVisible({ timeout: 30_000 });
  await act(row(1, 2).click());
  await quiet(page);
  await shows(page, hand, "wall");
  await act(drag(page, [515, 275], [765, 640]));
  await expect(row(2, 2)).toBeVisible({ timeout: 30_000 });
  await act(page.getByText("Draw what has to fit", { exact: true }).click());
  await act(drag(page, [765, 300], [880, 445]));
  await act(row(2, 2).click());
  await quiet(page);
  expect(actions).toBeLessThan(8);
  await shows(page, newArm, "wood");
  await expect(page.getByText("Left where it fits")).toBeVisible();
  await expect(row(2, 2)).toHaveAttribute("aria-pressed", "true");
  await noViolations(page, "swaps");

  // one step each: the part goes, and comes back
  await page.getByRole("button", { name: "Undo" }).click();
  await shows(page, newArm, "wall");
  await page.getByRole("button", { name: "Redo" }).click();
  await shows(page, newArm, "wood");

  // by keys alone: along the frames
  await page.getByRole("row", { name: /Part 2/ }).click();
  await page.keyboard.press("ArrowLeft");
  await shows(page, newArm, "wall");
  await page.keyboard.press("ArrowRight");
  await quiet(page);
  await shows(page, newArm, "wood");

  // they are layers like any other, and are there after a reload
  await page.getByRole("button", { name: "Back to the layers" }).click();
  await expect(page.getByRole("row", { name: /Part 2: frame 2/ })).toBeVisible();
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.reload();
  await stage(page, "Compose");
  await shows(page, newArm, "wood");

  // a picture of the same view from a file lies where it belongs, and the merge stays as it is
  await page.locator('input[type="file"]').last().setInputFiles("demo/figure/figure-1.jpg");
  await expect(page.getByText("Its light against that")).toBeVisible({ timeout: 60_000 });
  await quiet(page);
  await expect(page.getByRole("button", { name: /^Merge:/ })).toContainText("one frame as base");
  await shows(page, hand, "wood");
});
