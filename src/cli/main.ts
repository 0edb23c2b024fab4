import { parseArgs } from "node:util";
import { demo } from "./commands/demo";
import { proof } from "./commands/proof";
import { softproof } from "./commands/softproof";
import { develop } from "./commands/develop";
import { group } from "./commands/group";
import { inspect } from "./commands/inspect";
import { matte } from "./commands/matte";
import { merge } from "./commands/merge";
import { panorama } from "./commands/panorama";
import { plate } from "./commands/plate";
import { register } from "./commands/register";
import { render } from "./commands/render";
import { seat } from "./commands/seat";
import { match } from "./commands/match";
import { skySwap } from "./commands/skySwap";
import { sentenceOf } from "./gatherFiles";
import type { Options } from "./options";
import { UsageError } from "./UsageError";
import { checkWritable } from "./writeParts";

const HELP = `marsh, the command line of Marsh. See docs/cli.md.

  marsh inspect FILES… [--mask M.png]
  marsh group FILES…
  marsh register --reference REF FILES… [--model auto|translation|breathing|similarity|affine|homography|radial]
                 [--region x,y,w,h]… [--ignore x,y,w,h]…
  marsh merge radiance FILES… -o OUT.hdr|OUT.tif [--ev -2,0,2] [--response auto|assumed|recovered|srgb|linear] [--remove-fringe] [--undo-lateral]
  marsh merge fusion FILES… -o OUT.tif|OUT.jpg [--weights 1,1,0.25]
  marsh merge focus FILES… -o OUT.tif|OUT.jpg [--depth DEPTH.tif]
  marsh merge clipped|mean|median|base FILES… -o OUT.tif|OUT.jpg
    with every merge: [--reference REF] [--no-register] [--no-crop] [--provenance MAP.png] [--confidence MAP.png]
    and where things may move: [--ghosts 6|off] [--base FILE] [--ghost-map MAP.png]
  marsh panorama FILES… -o OUT.tif|OUT.png|OUT.jpg [--projection rectilinear|adaptive|cylindrical|equirectangular|mercator|stereographic]
                 [--focal-px N] [--bend PERCENT] [--crop inscribed|none|ratio 2:1]
  marsh matte PICTURE (--box x,y,w,h | --trimap T.png | --clean C | --backdrop) [--keep x,y,r]… [--leave x,y,r]… -o ALPHA.tif [--foreground F.tif]
  marsh plate PICTURE [--length x0,y0,x1,y1,METRES] [--camera-height M] [--shadow footX,footY,topX,topY,tipX,tipY]…
  marsh seat PLATE CUTOUT.tif --foot x,y [--height METRES] [--plate PLATE.json] [--light az,el,sourceDeg] [--shadow]
             [--lamps LAMPS.json] [--relight] [--defocus] -o OUT.tif
  marsh sky-swap LAND SKY [--plate PLATE.json] [--pan DEGREES] [--land-light 0.5] [--water x,y,x,y,x,y…] -o OUT.tif
  marsh match PICTURE --to REFERENCE [--paired | --pair x,y,x2,y2… | --method steps|statistics] [--mask M.png] -o OUT.tif
  marsh develop PICTURE.hdr|exr|tif|jpg [--character true|soft|rich] -o OUT.tif|OUT.jpg
  marsh proof JOB.marsh|PICTURE [--target PROFILE.icc [--intent …] [--no-black-point]]
  marsh softproof JOB.marsh|PICTURE --target PROFILE.icc [--intent relative|perceptual|saturation|absolute] [--no-black-point] [--paper-as-white]
                  -o OUT.tif|OUT.jpg
  marsh render JOB.marsh -o OUT.tif|OUT.jpg [--quality 95] [--space srgb|display-p3|rec2020]
  marsh demo --list | marsh demo NAME -o OUT.marsh

  --json prints the result as JSON on standard output; progress goes to standard error.
`;

const COMMANDS = { inspect, group, register, merge, panorama, matte, plate, seat, "sky-swap": skySwap, match, develop, proof, softproof, render, demo };

/** What is marked of a plate, and whether one is laid under what is seated. */
const SHADOWS = { shadow: { type: "string", multiple: true } } as const;
const SHADOW_OR_NOT = { shadow: { type: "boolean" } } as const;

async function main(): Promise<number> {
  const { values, positionals } = parseArgs({
    args: joinNegatives(process.argv.slice(2)),
    allowPositionals: true,
    options: {
      output: { type: "string", short: "o" },
      reference: { type: "string" },
      model: { type: "string" },
      character: { type: "string" },
      target: { type: "string" },
      intent: { type: "string" },
      "no-black-point": { type: "boolean" },
      "paper-as-white": { type: "boolean" },
      region: { type: "string", multiple: true },
      ignore: { type: "string", multiple: true },
      ev: { type: "string" },
      response: { type: "string" },
      depth: { type: "string" },
      weights: { type: "string" },
      ghosts: { type: "string" },
      base: { type: "string" },
      "ghost-map": { type: "string" },
      provenance: { type: "string" },
      confidence: { type: "string" },
      "remove-fringe": { type: "boolean" },
      "undo-lateral": { type: "boolean" },
      projection: { type: "string" },
      "focal-px": { type: "string" },
      bend: { type: "string" },
      crop: { type: "string" },
      box: { type: "string" },
      trimap: { type: "string" },
      clean: { type: "string" },
      backdrop: { type: "boolean" },
      keep: { type: "string", multiple: true },
      leave: { type: "string", multiple: true },
      foreground: { type: "string" },
      length: { type: "string" },
      "camera-height": { type: "string" },
      foot: { type: "string" },
      height: { type: "string" },
      plate: { type: "string" },
      light: { type: "string" },
      lamps: { type: "string" },
      pan: { type: "string" },
      "land-light": { type: "string" },
      water: { type: "string" },
      to: { type: "string" },
      paired: { type: "boolean" },
      pair: { type: "string", multiple: true },
      method: { type: "string" },
      mask: { type: "string" },
      relight: { type: "boolean" },
      defocus: { type: "boolean" },
      quality: { type: "string" },
      space: { type: "string" },
      "no-register": { type: "boolean" },
      "no-crop": { type: "boolean" },
      list: { type: "boolean" },
      threads: { type: "string" },
      json: { type: "boolean" },
      quiet: { type: "boolean" },
      help: { type: "boolean", short: "h" },
      ...(process.argv[2] === "seat" ? SHADOW_OR_NOT : SHADOWS),
    },
  });
  const [name, ...rest] = positionals;
  if (values.help || !name) {
    process.stdout.write(HELP);
    return name || values.help ? 0 : 2;
  }
  const command = COMMANDS[name as keyof typeof COMMANDS];
  if (!command) throw new UsageError(`There is no command "${name}". See marsh --help.`);
  for (const path of [values.output, values.depth, values.provenance, values.confidence, values["ghost-map"], values.foreground]) if (path) checkWritable(path);
  return command(rest, values as Options);
}

/** "--ev -2,0,2": a number that begins with a minus sign belongs to the option before it. */
function joinNegatives(args: string[]): string[] {
  const out: string[] = [];
  for (const arg of args) {
    const before = out.at(-1);
    if (/^-[\d.]/.test(arg) && before?.startsWith("--") && !before.includes("=")) out[out.length - 1] = `${before}=${arg}`;
    else out.push(arg);
  }
  return out;
}

/** What the parser of options says, in one sentence. */
function inWords(error: unknown): unknown {
  const { code, message = "" } = error as { code?: string; message?: string };
  const option = /'(-[^' ]*)/.exec(message)?.[1];
  if (code === "ERR_PARSE_ARGS_UNKNOWN_OPTION") return new UsageError(`There is no option "${option}". See marsh --help.`);
  if (code === "ERR_PARSE_ARGS_INVALID_OPTION_VALUE") return new UsageError(`The option ${option} needs a value, or takes none. See marsh --help.`);
  return error;
}

main().then(
  (code) => (process.exitCode = code),
  (thrown) => {
    const error = inWords(thrown);
    process.stderr.write(`marsh: ${sentenceOf(error)}\n`);
    process.exitCode = error instanceof UsageError ? 2 : 1;
  },
);
