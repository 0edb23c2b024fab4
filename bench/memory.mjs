// Peak memory (PSS summed over the browser's processes) and longest main-thread task for 24 MP frames in a persistent profile. Needs a
// built application. Run: scripts/bench memory [bracket | panorama | focus N | gather N]: five frames of a bracket, or seven of a
// panorama, through register, merge and export; N frames of a focus stack through register and merge; N frames through gathering and grouping.
import { execFileSync } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, readlinkSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ADDRESS, openBrowser } from "./browser.mjs";

const JOB = process.argv[2] ?? "bracket";
const COUNT = JOB === "bracket" ? 5 : JOB === "panorama" ? 7 : Number(process.argv[3] ?? 20);
const folder = mkdtempSync(join(tmpdir(), "marsh-memory-"));
const VIEWS = [0, 0.2, -0.1, 0.15, -0.2, 0.1, 0].map((ev, i) => [-45 + 15 * i, [0.5, -0.7, 0.3, 0.9, -0.4, 0.2, -0.6][i], 0.3, ev]);
const WIDE = {
  photo: "/usr/share/backgrounds/life_by_Aitzol_Berasategi.jpg",
  degrees: 150,
  masterWidth: 13600,
  grain: 14,
  size: [4000, 6000],
  focal: 5200,
  falloff: 0.25,
  views: VIEWS,
};
const frameName = (i) => join(folder, JOB === "panorama" ? `view-${i + 1}.jpg` : `frame-${String(i + 1).padStart(2, "0")}.jpg`);
// a focus stack has each position of the demo job several times, as different files
if (JOB === "panorama") execFileSync("/usr/bin/python3", ["tests/support/panorama.py", "make", folder, JSON.stringify(WIDE)]);
else
  execFileSync("/usr/bin/python3", [
    "-c",
    `import cv2, sys
for i in range(1, ${COUNT} + 1):
    name = 'barometer-%d' % (1 + round((i - 1) * 7 / ${Math.max(1, COUNT - 1)})) if '${JOB}' == 'focus' else 'doorway-%d' % ((i - 1) % 5 + 1)
    frame = cv2.imread(sys.argv[1] + '/' + name + '.jpg')
    cv2.imwrite(sys.argv[2] + '/frame-%02d.jpg' % i, cv2.resize(frame, (6000, 4000), interpolation=cv2.INTER_CUBIC), [cv2.IMWRITE_JPEG_QUALITY, 93 - (i - 1) // 5])`,
    JOB === "focus" ? "demo/barometer" : "demo/doorway",
    folder,
  ]);
const { page, close } = await openBrowser();

function pssMiB() {
  let sum = 0;
  for (const pid of readdirSync("/proc").filter((p) => /^\d+$/.test(p))) {
    try {
      if (!readlinkSync(`/proc/${pid}/exe`).includes("chromium")) continue;
      sum += Number(/^Pss:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, "utf8"))[1]);
    } catch {
      // the process has ended meanwhile
    }
  }
  return sum / 1024;
}

let peak = 0;
let step = "start";
const peaks = {};
const sampler = setInterval(() => {
  const now = pssMiB();
  peak = Math.max(peak, now);
  peaks[step] = Math.max(peaks[step] ?? 0, now);
}, 250);
try {
  await page.addInitScript(() => {
    window.longest = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) window.longest = Math.max(window.longest, entry.duration);
    }).observe({ type: "longtask", buffered: true });
  });
  await page.goto(ADDRESS);
  await page.getByRole("button", { name: "New job" }).click();
  await page.waitForSelector("text=Bring the frames");
  step = "gather";
  await page
    .locator('input[type="file"]')
    .first()
    .setInputFiles(Array.from({ length: COUNT }, (_, i) => frameName(i)));
  await page.waitForSelector("table[aria-label=Frames]", { timeout: 600_000 });
  await page
    .getByText(/^Proposed; /)
    .first()
    .waitFor({ timeout: 600_000 });
  await page.waitForFunction(() => ![...document.querySelectorAll("button")].some((b) => b.textContent === "Stop"), null, { timeout: 900_000 });
  console.log(`${await page.locator("table[aria-label^=Frames] tbody tr").count()} frames gathered`);
  if (JOB === "focus") await page.getByLabel(/^Taken for/).selectOption({ label: "Focus stack" });
  if (JOB !== "gather") {
    step = "register";
    await page.keyboard.press("3");
    await page.getByRole("button", { name: /^(Register|Lay out) \d+ frames/ }).click();
    await page.getByText(/\d+ frames (in place|meet|left out)/).waitFor({ timeout: 3_600_000 });
    step = "merge";
    await page.keyboard.press("4");
    await page.getByRole("button", { name: /^Merge \d+ frames/ }).click();
    await page.getByText({ focus: "Focus merge in force", panorama: "Panorama in force" }[JOB] ?? "Radiance merge in force").waitFor({ timeout: 1_200_000 });
  }
  if (JOB === "bracket" || JOB === "panorama") {
    step = "export";
    await page.keyboard.press("8");
    const [file] = await Promise.all([
      page.waitForEvent("download", { timeout: 600_000 }),
      page.getByRole("button", { name: "Write TIF" }).click({ timeout: 300_000 }),
    ]);
    await file.saveAs(join(folder, "out.tif"));
  }
  console.log(
    `peak PSS of the browser: ${peak.toFixed(0)} MiB  (${Object.entries(peaks)
      .map(([k, v]) => `${k} ${v.toFixed(0)}`)
      .join(", ")})`,
  );
  console.log(`longest main-thread task: ${(await page.evaluate(() => window.longest)).toFixed(0)} ms`);
} finally {
  clearInterval(sampler);
  await close();
}
