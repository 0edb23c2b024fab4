/**
 * Damaged files of every kind that is read, side by side with readers of another make (tests/support/hostile.py): what is read with other pixels than the
 * whole file has, no other reader may refuse; every refusal is one sentence; nothing takes long or much. A part of the corpus by day, all of it at night.
 */
import { sentence } from "../../../src/messages/sentence";
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { extname, join } from "node:path";
import { FormatError } from "../../../src/formats/formatError";
import { readPicture, type Picture } from "../../../src/formats/readPicture";
import { loadCodecs } from "../../support/kernels";
import { NIGHT } from "../../support/night";
import { runSupport, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
const [cuts, flips] = NIGHT ? [20, 200] : [3, 7];
const kinds = runSupport<string[]>("hostile.py", ["make", folder, String(cuts), String(flips)]);
const codecsReady = loadCodecs();

const samePixels = (a: Picture, b: Picture) =>
  a.raster.width === b.raster.width &&
  a.raster.height === b.raster.height &&
  a.raster.bits === b.raster.bits &&
  a.raster.data.every((v, i) => Object.is(v, b.raster.data[i]));

it.each(kinds)("%s damaged: refused in a sentence, or no other reader refuses it", async (name) => {
  const codecs = await codecsReady;
  const whole = await readPicture(new Uint8Array(readFileSync(join(folder, "whole", name))), codecs);
  const kind = name.slice(0, -extname(name).length);
  const changed: string[] = [];
  const faults: string[] = [];
  for (const file of readdirSync(join(folder, kind))) {
    const path = join(folder, kind, file);
    const before = process.cpuUsage();
    try {
      const picture = await readPicture(new Uint8Array(readFileSync(path)), codecs);
      if (!samePixels(picture, whole)) changed.push(path);
    } catch (error) {
      const message = error instanceof FormatError ? sentence(error.told) : String(error);
      if (!(error instanceof FormatError) || !/^[A-Z“].{10,200}\.$/.test(message) || /undefined|null|NaN/.test(message)) faults.push(`${file}: ${message}`);
    }
    const { user, system } = process.cpuUsage(before);
    if (user + system > 20e6) faults.push(`${file}: ${(user + system) / 1e6} s`);
  }
  expect(faults).toEqual([]);
  expect(samePixels(await readPicture(new Uint8Array(readFileSync(join(folder, "whole", name))), codecs), whole)).toBe(true);
  const listed = join(folder, `${kind}.json`);
  writeFileSync(listed, JSON.stringify(changed));
  expect(runSupport<string[]>("hostile.py", ["judge", join(folder, "whole", name), listed])).toEqual([]);
  // cut files are never read as whole
  expect(changed.filter((path) => path.includes("/cut"))).toEqual([]);
});
