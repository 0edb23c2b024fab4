/** A stroke while it is painted: only tiles near where it goes on are drawn anew, and what the screen then holds is what an engine that begins anew draws. */
import { wholeFrame } from "../kinds/contents/frame/record";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { addRecord } from "../document/edits";
import { addLayer, paintedMask } from "../document/layerEdits";
import type { Records } from "../document/records/types";
import { framesOf } from "../document/selectors";
import { prepareSmallJob, SMALL_JOB } from "../../tests/support/smallJob";
import type { RenderedView } from "./operations/view/renderView";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const [W, H] = SMALL_JOB;
const whole = { x: 0, y: 0, width: W, height: H };
/** One that sees a stroke grow, and one that sees it whole. */
let [warm, fresh]: NodeEngine[] = [];
let [merged, again]: Records[] = [];
beforeAll(async () => {
  [warm, fresh] = [await createNodeEngine(process.cwd(), new MemoryRasterStore()), await createNodeEngine(process.cwd(), new MemoryRasterStore())];
  [merged, again] = [await prepareSmallJob(warm), await prepareSmallJob(fresh)];
});
afterAll(() => [warm, fresh].forEach((e) => e.end()));

/** A frame laid over the merge by a painted mask. */
const layered = (job: Records, base: 0 | 1, featherPx: number): Records =>
  addLayer({
    id: "l",
    name: "L",
    content: wholeFrame(framesOf(job)[0].id, { exposureEv: 2 }),
    mask: { ...paintedMask(base, "p"), featherPx },
  })(job);

/** Once around the picture and across, so that the box around it is nearly all of the picture. */
const wayOf = (k: number): [number, number] => [W / 2 + (150 - k) * Math.cos(k / 9), H / 2 + (110 - 0.7 * k) * Math.sin(k / 9)];

/** What the screen holds: pieces laid over what was there. */
class Screen {
  readonly rgba = new Uint8ClampedArray(W * H * 4);
  held: Pick<RenderedView, "level" | "rect" | "keys"> | null = null;

  take({ rect, level, keys, pieces }: RenderedView): number {
    for (const { rect: part, rgba } of pieces) {
      for (let y = 0; y < part.height; y++) this.rgba.set(rgba.subarray(y * part.width * 4, (y + 1) * part.width * 4), ((part.y + y) * W + part.x) * 4);
    }
    this.held = { rect, level, keys };
    return pieces.reduce((sum, p) => sum + p.rect.width * p.rect.height, 0) / (W * H);
  }
}

it.each([
  ["that reveals", {}, 0, 0],
  ["that keeps to its side of an edge", { edgeTolerance: 12 }, 0, 0],
  ["that conceals, of a feathered mask", { reveal: false }, 1, 6],
] as const)("a stroke %s", async (_, how, base, featherPx) => {
  const brush = { diameterPx: 26, softness: 0.6, flow: 0.5, opacity: 0.9, edgeTolerance: 0, spacing: 0.1, reveal: true, ...how };
  const withStroke = (job: Records, points: number[]): Records =>
    addRecord({ kind: "stroke", id: "s", index: 0, layerId: "l", partId: "p", ...brush, points })(layered(job, base, featherPx));
  const draw = (node: NodeEngine, records: Records, held: Screen["held"]) =>
    node.ask("renderView", { records, view: { kind: "compose" }, level: 0, rect: whole, space: "srgb", held });
  const screen = new Screen();
  expect(screen.take(await draw(warm, layered(merged, base, featherPx), null))).toBe(1);
  const before = screen.rgba.slice();
  const points: number[] = [];
  const shares: number[] = [];
  for (let k = 0; k < 120; k += 2) {
    points.push(...wayOf(k), 1, ...wayOf(k + 1), 0.8);
    shares.push(screen.take(await draw(warm, withStroke(merged, [...points]), screen.held)));
  }
  // the last 16 points and what a brush and a feather reach around them, on tiles of 64 px
  const late = shares.slice(-40);
  expect(Math.max(...late)).toBeLessThan(0.6);
  expect(late.reduce((a, b) => a + b, 0) / late.length).toBeLessThan(0.35);
  const cold = new Screen();
  cold.take(await draw(fresh, withStroke(again, points), null));
  expect(Buffer.compare(Buffer.from(screen.rgba), Buffer.from(cold.rgba))).toBe(0);
  expect(Buffer.compare(Buffer.from(screen.rgba), Buffer.from(before))).not.toBe(0);
});

it("where there is no time what changed is drawn coarser, and only that; it is not drawn so again, and the exact picture follows", async () => {
  const brush = { diameterPx: 40, softness: 0.5, flow: 0.7, opacity: 1, edgeTolerance: 0, spacing: 0.1, reveal: true };
  const job = addRecord({ kind: "stroke", id: "s", index: 0, layerId: "l", partId: "p", ...brush, points: [90, 80, 1, 150, 90, 1] })(layered(merged, 0, 0));
  const view = { kind: "compose" as const };
  const ask = (records: Records, held: Screen["held"], atMost: number | null) =>
    warm.ask("renderView", { records, view, level: 0, rect: whole, space: "srgb", held, atMost });
  const screen = new Screen();
  screen.take(await ask(layered(merged, 0, 0), null, null));
  const { held } = screen;
  const quick = await ask(job, held, 500);
  expect([quick.isExact, quick.level]).toEqual([false, 0]);
  expect(quick.pieces.every((p) => p.level > 0)).toBe(true);
  expect(quick.pieces.reduce((sum, p) => sum + p.rect.width * p.rect.height, 0)).toBeLessThan((W * H) / 20);
  const changed = quick.keys.filter((key, i) => key !== held!.keys[i]).length;
  expect(changed).toBeGreaterThan(0);
  expect(changed).toBeLessThan(quick.keys.length / 3);
  const shown = { level: quick.level, rect: quick.rect, keys: quick.keys };
  expect((await ask(job, shown, 500)).pieces).toEqual([]);
  const exact = await ask(job, shown, null);
  expect([exact.isExact, exact.pieces.every((p) => p.level === 0)]).toEqual([true, true]);
  screen.take(exact);
  const cold = new Screen();
  cold.take(await ask(job, null, null));
  expect(Buffer.compare(Buffer.from(screen.rgba), Buffer.from(cold.rgba))).toBe(0);
});
