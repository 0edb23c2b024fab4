/**
 * Twelve layers (seven adjustments, five pictures with masks) on 24 MP: a change of one value on a 1280×800 screen as a ratio to copying
 * the visible planes once a layer, and the dabs of a soft 1,500 px brush. Run: scripts/bench layers
 */
import { wholeFrame } from "../src/kinds/contents/frame/record";
import { readFileSync } from "node:fs";
import { addLayer, paintedMask, updateLayer, updateMask } from "../src/document/layerEdits";
import type { Records, StrokeRecord } from "../src/document/records/types";
import { twelveLayers } from "./twelveLayers";

const made = await twelveLayers();
const { node, frames } = made;
let { records } = made;

const cpu = () => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
};
type Measured = Awaited<ReturnType<typeof measure>>;
async function measure(rounds: number, work: (i: number) => Promise<unknown> | unknown) {
  const cpus: number[] = [];
  const walls: number[] = [];
  for (let i = 0; i < rounds; i++) {
    const [c, w] = [cpu(), performance.now()];
    await work(i);
    cpus.push(cpu() - c);
    walls.push(performance.now() - w);
  }
  const at = (v: number[], share: number) => [...v].sort((a, b) => a - b)[Math.floor(share * (v.length - 1))];
  return { cpu: at(cpus, 0.5), wall: at(walls, 0.5), wall95: at(walls, 0.95) };
}
const rect = { x: 100, y: 100, width: 1280, height: 800 };
const view = (r: Records, level: number, where = rect) => node.ask("renderRect", { records: r, view: { kind: "compose" }, level, rect: where, space: "srgb" });
await view(records, 2);

const changed = (i: number) => updateLayer("zones", { content: { type: "adjustment", adjustment: "zones", values: { zone1: 0.5 + 0.01 * i } } })(records);
const exact = await measure(9, (i) => view(changed(i), 2));
const coarse = await measure(9, (i) => view(changed(i + 20), 4, { x: 25, y: 25, width: 320, height: 200 }));
const masked = await measure(9, (i) => view(updateMask("picture-2", { density: 0.9 - 0.01 * i })(records), 2));
const planes = new Float32Array(1280 * 800 * 3);
const copy = await measure(9, () => {
  for (let k = 0; k < 20; k++) planes.slice();
});
/** Dabs of one stroke on the mask of a layer. */
const paintOn = (layerId: string) => {
  const points: number[] = [];
  return measure(60, (i) => dabOn(layerId, points, i));
};
function dabOn(layerId: string, points: number[], i: number) {
  points.push(1800 + i * 25, 2000 + i * 6, 1);
  const common = { kind: "stroke" as const, id: `live-${layerId}`, index: 0, layerId, partId: "painted", reveal: true };
  const stroke: StrokeRecord = { ...common, diameterPx: 1500, softness: 1, flow: 0.3, opacity: 1, edgeTolerance: 0, spacing: 0.08, points: [...points] };
  const [x, y] = points.slice(-3);
  const side = 1500 / 4 + 12;
  return view({ ...records, live: stroke }, 2, { x: Math.round(x / 4 - side / 2), y: Math.round(y / 4 - side / 2), width: side, height: side });
}
const below = await paintOn("picture-0");
records = addLayer({
  id: "top",
  name: "Top",
  content: wholeFrame(frames[1].id),
  mask: paintedMask(0, "painted"),
})(records);
const above = await paintOn("top");

const exporting = await measure(1, () =>
  node.ask("exportPicture", { records, settings: { format: "tiff16", quality: 95, space: "srgb", content: "finished", crop: true } }),
);
const peak = Number(/VmHWM:\s+(\d+)/.exec(readFileSync("/proc/self/status", "utf8"))![1]) / 1024;

const line = (name: string, value: string) => console.log(`${name.padEnd(62)} ${value}`);
const copies = (ms: number) => (ms / ((copy.cpu / 20) * 12)).toFixed(1);
line("one value changed, exact: CPU in copies of the planes a layer", `${copies(exact.cpu)}, ${exact.wall.toFixed(0)} ms here`);
line("one value changed, coarse", `${coarse.wall.toFixed(0)} ms here`);
line("a mask's density changed, exact", `${copies(masked.cpu)}, ${masked.wall.toFixed(0)} ms here`);
const dabs = ({ cpu, wall, wall95 }: Measured) => `${cpu.toFixed(0)} ms CPU, median ${wall.toFixed(0)} ms, p95 ${wall95.toFixed(0)} ms here`;
line("a 1500 px soft dab on the lowest of twelve layers", dabs(below));
line("the same on a thirteenth above them", dabs(above));
line("export of 24 MP through twelve layers to TIFF", `${(exporting.cpu / 1000).toFixed(0)} s CPU, peak resident memory of all this ${peak.toFixed(0)} MiB`);
