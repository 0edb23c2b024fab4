/** The way in, back and on: addresses, work without a network, panels that give the picture room, a tablet with touch. */
import { chromium, expect, test, type Page } from "@playwright/test";
import config from "../../playwright.config";
import { exact, nightly, noViolations, openBrowser, pageOf, quiet, stage, temporaryFolder } from "./support";

const HOME = "http://localhost:3217";

async function openCreek(page: Page): Promise<void> {
  await page.goto(`${HOME}/?demo=creek`);
  await expect(page.getByText("Separate shots, 4 frames")).toBeVisible({ timeout: 120_000 });
  await quiet(page);
  await exact(page);
}
/** The share of the window that a picture of these sides takes as it is shown. */
const shareOf = async (page: Page, aspect: number) => {
  const { width, height } = (await page.locator("[data-exact]").boundingBox())!;
  const window = page.viewportSize()!;
  const shown = Math.min(width - 6, (height - 6) * aspect);
  return (shown * shown) / aspect / (window.width * window.height);
};

test("stages and jobs have addresses, back and forward go through them, and without a network all goes on", async () => {
  const context = await openBrowser(temporaryFolder());
  const page = await pageOf(context);
  await openCreek(page);
  await expect(page).toHaveURL(/\/job\/[\w-]+\/gather$/);
  await expect(page).toHaveTitle("Creek, four lights · Gather · Marsh");
  await stage(page, "Register");
  await expect(page).toHaveURL(/\/register$/);
  await page.goBack();
  await expect(page).toHaveTitle(/Gather/);
  await page.goForward();
  await expect(page).toHaveTitle(/Register/);

  // from here on nothing comes from the server any more
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await context.setOffline(true);
  await page.reload();
  await expect(page).toHaveTitle("Creek, four lights · Register · Marsh");
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
  await page.getByRole("button", { name: "Register 4 frames" }).click();
  await expect(page.getByText(/4 frames aligned/)).toBeVisible({ timeout: 180_000 });
  await expect(page.getByTestId("saved")).toContainText("Saved");
  await page.goto(`${HOME}/`);
  await expect(page.getByRole("list", { name: "Jobs", exact: true }).getByRole("listitem")).toContainText("Separate shots, 4 frames · at Register");
  // a demo that came once is there to be begun again
  await page.getByRole("button", { name: /^Show \d+ demo jobs$/ }).click();
  await page.getByRole("button", { name: "Open Creek, four lights" }).click();
  await expect(page.getByText("Separate shots, 4 frames")).toBeVisible({ timeout: 120_000 });
  await page.goto(`${HOME}/job/none/merge`);
  await expect(page.getByText(/The job of this address is not in this browser/)).toBeVisible();
  await expect(page).toHaveURL(`${HOME}/`);
  // the system's share sheet brings pictures to the installed application, without a network too
  await page.evaluate(async () => {
    const form = new FormData();
    for (const name of ["dusk.png", "dawn.png"]) {
      const canvas = new OffscreenCanvas(640, 480);
      const at = canvas.getContext("2d")!;
      for (let i = 0; i < 400; i++) {
        at.fillStyle = `hsl(${(i * 47) % 360} 60% ${name === "dusk.png" ? 30 : 50}%)`;
        at.fillRect((i * 173) % 640, (i * 97) % 480, 30, 20);
      }
      form.append("files", new File([await canvas.convertToBlob()], name));
    }
    await fetch("/receive", { method: "POST", body: form });
  });
  await page.goto(`${HOME}/?received`);
  await expect(page.getByText(/, 2 frames/).first()).toBeVisible({ timeout: 60_000 });
  await expect(page).toHaveURL(/\/job\/[\w-]+\/gather$/);
  await quiet(page);
  await context.setOffline(false);
  const answer = await page.goto(`${HOME}/nowhere`);
  expect(answer!.status()).toBe(404);
  await page.getByRole("link", { name: "Go to all jobs" }).click();
  await expect(page.getByRole("list", { name: "Jobs", exact: true })).toBeVisible();

  // what is installed is told in full
  const manifest = await (await page.request.get(`${HOME}/manifest.webmanifest`)).json();
  expect(manifest).toMatchObject({ name: "Marsh", start_url: "/", display: "standalone", share_target: { action: "/receive", method: "post" } });
  for (const { src } of manifest.icons as { src: string }[]) expect((await page.request.get(HOME + src)).ok()).toBe(true);
  const policy = (await page.request.get(`${HOME}/`)).headers()["content-security-policy"];
  expect(policy).toContain("'sha256-");
  expect(policy).not.toContain("'unsafe-eval'");
  expect(policy).not.toContain("unsafe-inline");
  await context.close();
});

test("panels fold and widen, are remembered, and leave the picture its room", async () => {
  const context = await openBrowser(temporaryFolder());
  const page = await pageOf(context);
  await openCreek(page);
  expect(await shareOf(page, 3 / 2)).toBeGreaterThanOrEqual(0.36);
  await page.getByRole("button", { name: "Fold the ledger" }).click();
  await page.keyboard.press("i");
  expect(await shareOf(page, 3 / 2)).toBeGreaterThanOrEqual(0.65);
  await expect(page.getByRole("button", { name: "Unfold the ledger" })).toContainText("4 frames");
  await noViolations(page, "folded panels");
  await page.reload();
  await exact(page);
  await page.getByRole("button", { name: "Unfold the bench" }).click();
  const grip = page.getByRole("separator", { name: "Width of the bench" });
  const before = Number(await grip.getAttribute("aria-valuenow"));
  // the picture has the keys once it is tabbed to
  const picture = page.getByRole("img");
  const scale = async () => Number(/(\d+) %/.exec(await page.locator("[data-scale]").innerText())![1]);
  const fitted = await scale();
  await picture.focus();
  await page.keyboard.press("+");
  await expect.poll(scale).toBeGreaterThan(fitted);
  // single letters can be switched off
  await page.keyboard.press("k");
  await page.getByRole("checkbox", { name: "Single letters and signs work" }).uncheck();
  await page.keyboard.press("Escape");
  await page.keyboard.press("q");
  await expect(page.getByRole("button", { name: "Unfold the ledger" })).toBeVisible();
  await page.getByRole("button", { name: "Keys" }).click();
  await page.getByRole("checkbox", { name: "Single letters and signs work" }).check();
  // and given to other acts, for the next time too
  await page.getByRole("button", { name: "Key for Logbook: l" }).click();
  await page.keyboard.press("i");
  await expect(page.getByRole("button", { name: "Key for Fold or unfold the bench: l" })).toBeVisible();
  await noViolations(page, "sheet of keys");
  await page.keyboard.press("Escape");
  // asked for before anything else happens: until then a chooser goes to the system
  const chooser = page.waitForEvent("filechooser", { timeout: 120_000 });
  await page.reload();
  await exact(page);
  await page.keyboard.press("l");
  await page.getByRole("button", { name: "Unfold the bench" }).click();
  await page.keyboard.press("Control+o");
  expect((await chooser).isMultiple()).toBe(true);
  await grip.focus();
  await page.keyboard.press("ArrowLeft");
  await expect(grip).toHaveAttribute("aria-valuenow", String(before + 16));
  await page.keyboard.press("q");
  await expect(page.getByRole("button", { name: "Fold the ledger" })).toBeVisible();
  await context.close();
});

// by day the smaller one
for (const [width, height, run] of [
  [1024, 768, test],
  [1133, 744, nightly],
] as const) {
  run(`on a tablet of ${width}×${height} everything is reached by touch`, async () => {
    const context = await chromium.launchPersistentContext(temporaryFolder(), {
      ...config.use!.launchOptions,
      viewport: { width, height },
      hasTouch: true,
      isMobile: true,
    });
    const page = await pageOf(context);
    await page.goto(`${HOME}/`);
    await page.getByRole("button", { name: "Open Creek, four lights" }).tap();
    await expect(page.getByText("Separate shots, 4 frames")).toBeVisible({ timeout: 120_000 });
    await quiet(page);
    await exact(page);
    const scale = async () => Number(/(\d+) %/.exec(await page.locator("[data-scale]").innerText())![1]);
    const [box, before, devtools] = [(await page.locator("[data-exact]").boundingBox())!, await scale(), await context.newCDPSession(page)];
    const fingers = (type: "touchStart" | "touchMove" | "touchEnd", apart: number) =>
      devtools.send("Input.dispatchTouchEvent", {
        type,
        touchPoints: type === "touchEnd" ? [] : [-1, 1].map((side, id) => ({ id, x: box.x + box.width / 2 + (side * apart) / 2, y: box.y + box.height / 2 })),
      });
    await fingers("touchStart", 60);
    await fingers("touchMove", 120);
    await fingers("touchMove", 180);
    await fingers("touchEnd", 0);
    await expect.poll(scale).toBeGreaterThan(before * 2.9);
    for (const name of ["Plan", "Gather", "Register", "Merge", "Compose", "Finish", "Proof", "Hand over"]) {
      await page.getByRole("button", { name: new RegExp(`^${name}:`) }).tap();
      // nothing hangs over the side, and no button is cut by it
      const cut = await page.evaluate(() =>
        [...document.querySelectorAll("button")]
          .filter((b) => b.checkVisibility())
          .filter((b) => b.getBoundingClientRect().right > innerWidth + 1)
          .map((b) => b.textContent),
      );
      expect(cut, name).toEqual([]);
      // what is drawn as a control is large enough for a finger; the row of sizes is a little lower
      const small = await page.evaluate(() =>
        [...document.querySelectorAll("button, select")]
          .filter(
            (b) =>
              b.checkVisibility() &&
              !b.closest("[aria-hidden=true]") &&
              getComputedStyle(b).borderTopWidth !== "0px" &&
              !b.closest("[aria-label='Sample size']"),
          )
          .filter((b) => b.getBoundingClientRect().height < 40)
          .map((b) => b.textContent || b.ariaLabel),
      );
      expect(small, name).toEqual([]);
    }
    await context.close();
  });
}
