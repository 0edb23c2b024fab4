// How long it takes from a pen event to the painted picture that holds that point, on twelve layers of 24 MP at 1280×800, in the browser. Needs a built application.
// Run: scripts/bench painting
import { ADDRESS, openBrowser } from "./browser.mjs";

const [FILE] = process.argv.slice(2);
const MOVES = 150;
/** between two moves of a pen that tells its place 60 times a second, ms */
const EVERY = 1000 / 60;

const { context, page, close } = await openBrowser();
// the page tells when each point was given, and when a picture that was asked for with it was on the screen
await context.addInitScript(() => {
  const state = (window.painting = { points: [], held: 0, asked: new Map(), painted: [], coarse: 0, drawing: [], showing: [] });
  addEventListener(
    "pointermove",
    (e) => {
      if (e.buttons === 0) return;
      for (const c of e.getCoalescedEvents().length ? e.getCoalescedEvents() : [e]) state.points.push(c.timeStamp);
    },
    true,
  );
  addEventListener("pointerdown", (e) => state.points.push(e.timeStamp), true);
  const receive = ({ data }) => {
    const asked = state.asked.get(data.id);
    if (!asked || !data.result) return;
    const came = performance.now();
    if (!data.result.isExact) state.coarse++;
    state.drawing.push(came - asked.at);
    requestAnimationFrame(() =>
      setTimeout(() => {
        state.showing.push(performance.now() - came);
        state.painted.push([asked.held, performance.now()]);
      }),
    );
  };
  const post = Worker.prototype.postMessage;
  Worker.prototype.postMessage = function (m, ...rest) {
    for (const record of m?.document?.put ?? []) if (record.kind === "stroke") state.held = record.points.length / 3;
    for (const { points } of m?.document?.grown ?? []) state.held += points.length / 3;
    if (m?.name === "renderView") {
      if (state.asked.size === 0) this.addEventListener("message", receive);
      state.asked.set(m.id, { held: state.held, at: performance.now() });
    }
    return post.call(this, m, ...rest);
  };
});
await page.goto(ADDRESS);
await page.getByRole("button", { name: "Keys" }).waitFor();
await page.waitForTimeout(3000);
const chooser = page.waitForEvent("filechooser");
await page.keyboard.press("Control+o");
await (await chooser).setFiles(FILE);
await page.getByRole("button", { name: /^Compose:/ }).click();
await page.waitForSelector("[data-exact=true]", { timeout: 300_000 });
const setValue = async (label, value) => {
  const field = page.getByRole("textbox", { name: label });
  await field.fill(value);
  await field.press("Enter");
};

const quantile = (list, share) => [...list].sort((a, b) => a - b)[Math.floor(share * (list.length - 1))];
await page
  .getByRole("row", { name: /^P0\b/ })
  .first()
  .click({ position: { x: 40, y: 12 } });
await page
  .getByRole("radio", { name: "Mask", exact: true })
  .or(page.getByRole("button", { name: "Mask", exact: true }))
  .first()
  .click();
for (const diameter of ["300", "1500"]) {
  await setValue("Size, px", diameter);
  await page.waitForSelector("[data-exact=true]", { timeout: 60_000 });
  // as long as a hand takes from the panel to the picture
  await page.waitForTimeout(1500);
  const box = await page.locator("[data-exact]").boundingBox();
  await page.evaluate(() => Object.assign(window.painting, { points: [], held: 0, painted: [], coarse: 0, drawing: [], showing: [] }));
  const [x, y] = [box.x + 0.25 * box.width, box.y + 0.4 * box.height];
  await page.mouse.move(x, y);
  await page.mouse.down();
  const started = performance.now();
  for (let i = 1; i <= MOVES; i++) {
    await page.mouse.move(x + (i / MOVES) * 0.5 * box.width, y + 30 * Math.sin(i / 12));
    await new Promise((r) => setTimeout(r, Math.max(0, started + i * EVERY - performance.now())));
  }
  const { points, painted, coarse, drawing, showing } = await page.evaluate(() => window.painting);
  await page.mouse.up();
  await page.waitForSelector("[data-exact=true]", { timeout: 60_000 });
  const waits = points.flatMap((at, k) => {
    const holds = painted.find(([held]) => held > k);
    return holds ? [holds[1] - at] : [];
  });
  const ms = (list, share = 0.5) => `${quantile(list, share).toFixed(0)} ms`;
  console.log(
    `the lowest layer, ${diameter} px: ${points.length} points, ${painted.length} pictures (${coarse} with coarser tiles); from event to picture median ${ms(waits)}, p95 ${ms(waits, 0.95)}`,
  );
  console.log(
    `  of it asked and drawn median ${ms(drawing)}, p95 ${ms(drawing, 0.95)}; on the screen after that median ${ms(showing)}, p95 ${ms(showing, 0.95)}`,
  );
}
await close();
