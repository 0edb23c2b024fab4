import { REC2020 } from "../../core/color/primaries";
import { INTENTS, type Intent } from "../../core/print/printed";
import { viewOf } from "../bytes";
import { FormatError } from "../formatError";
import { message } from "../../messages/message";
import { describeProfile, tagsOf } from "./readProfile";
import { openProfile, type ColorLibrary } from "./tableProfile";
import { writeProfile } from "./writeProfile";

export interface PrintSettings {
  intent: Intent;
  /** whether the picture's black is brought to that of the paper */
  blackPoint: boolean;
}

/** lcms2.h: COLORSPACE_SH(pt) | CHANNELS_SH(n) of floats. */
const floats = (type: number, channels: number) => (1 << 22) | (type << 16) | (channels << 3) | 4;
const DEVICES: Record<string, [type: number, channels: number]> = { "RGB ": [4, 3], CMYK: [6, 4], GRAY: [3, 1], "CMY ": [5, 3] };
const [PT_RGB, PT_XYZ] = [4, 9];
/** lcms2.h: no cache, no resampling into a coarser table; black point compensation. */
const [EXACT, BLACK_POINT] = [0x40 | 0x100, 0x2000];
const [RELATIVE, ABSOLUTE] = [1, 3];
const AT_ONCE = 1 << 14;

/**
 * A paper and what prints on it, by its profile: working light → what lies on the paper. Colours come as XYZ under D50, beside a perfect white (Y = 1).
 * The transforms and their memory go with the library that was given.
 */
export class Printer {
  private constructor(
    private readonly lcms: ColorLibrary,
    readonly name: string,
    /** what the device is driven in: RGB, CMYK, GRAY */
    readonly device: string,
    private readonly toDevice: number,
    private readonly toPaper: number,
    private readonly toWhite: number,
    private readonly channels: number,
  ) {}

  /** @param lcms a fresh library @throws FormatError with one sentence where the profile is none, or none that prints */
  static open(profile: Uint8Array, { intent, blackPoint }: PrintSettings, lcms: ColorLibrary): Printer {
    const text = (at: number, n: number) => String.fromCharCode(...profile.subarray(at, at + n));
    if (profile.length < 132 || text(36, 4) !== "acsp") throw new FormatError("damaged", "profile.isNone");
    if (viewOf(profile).getUint32(0) > profile.length) throw new FormatError("damaged", "profile.cannotPrint");
    const [kind, device] = [text(12, 4), text(16, 4)];
    if (kind === "scnr") throw new FormatError("unsupported", "profile.scanner");
    if (kind !== "prtr" && kind !== "mntr" && kind !== "spac") throw new FormatError("unsupported", message("profile.notOutput", { kind: kind.trim() }));
    const shape = DEVICES[device];
    if (!shape) throw new FormatError("unsupported", message("profile.unknownInks", { space: device.trim() }));
    const tags = tagsOf(profile);
    const isMatrix = tags.has("rXYZ") && tags.has("rTRC");
    if (!tags.has("B2A0") && !tags.has("B2A1") && !(device === "RGB " && isMatrix) && !(device === "GRAY" && tags.has("kTRC")))
      throw new FormatError("unsupported", message("profile.noWayTo", { space: device.trim() }));
    const working = openProfile(writeProfile("Rec. 2020", REC2020, "linear"), lcms);
    const paper = openProfile(profile, lcms);
    const xyz = paper ? lcms.cmsCreateXYZProfile() : 0;
    const format = floats(...shape);
    const seen = floats(PT_XYZ, 3);
    const made = xyz
      ? [
          lcms.cmsCreateTransform(working, floats(PT_RGB, 3), paper, format, INTENTS.indexOf(intent), EXACT | (blackPoint ? BLACK_POINT : 0)),
          lcms.cmsCreateTransform(paper, format, xyz, seen, RELATIVE, EXACT),
          lcms.cmsCreateTransform(paper, format, xyz, seen, ABSOLUTE, EXACT),
        ]
      : [0];
    if (made.some((transform) => !transform)) throw new FormatError("damaged", "profile.cannotPrint");
    return new Printer(lcms, describeProfile(profile), device.trim(), made[0], made[1], made[2], shape[1]);
  }

  /**
   * Prints working light, held to what the working space has between black and white.
   * @param planes red, green, blue; replaced by X, Y, Z @param paper whether paper and ink show as they are (absolute), or the paper as white
   */
  print(planes: Float32Array[], paper: boolean): void {
    const { lcms, channels } = this;
    const total = planes[0].length;
    const [from, inks, to] = [3, channels, 3].map((n) => lcms._malloc(AT_ONCE * n * 4));
    for (let first = 0; first < total; first += AT_ONCE) {
      const n = Math.min(AT_ONCE, total - first);
      const light = new Float32Array(n * 3);
      for (let i = 0; i < n; i++) for (let c = 0; c < 3; c++) light[3 * i + c] = Math.min(1, Math.max(0, planes[c][first + i]));
      lcms.HEAPU8.set(new Uint8Array(light.buffer), from);
      lcms._cmsDoTransform(this.toDevice, from, inks, n);
      this.hold(inks, n * channels);
      lcms._cmsDoTransform(paper ? this.toWhite : this.toPaper, inks, to, n);
      const seen = new Float32Array(lcms.HEAPU8.slice(to, to + n * 12).buffer);
      for (let i = 0; i < n; i++) for (let c = 0; c < 3; c++) planes[c][first + i] = seen[3 * i + c];
    }
    [from, inks, to].forEach((at) => lcms._free(at));
  }

  /** No device gives more than all of a light or an ink, though floats would go on. */
  private hold(at: number, count: number): void {
    const values = new Float32Array(this.lcms.HEAPU8.buffer, at, count);
    const most = this.device === "CMYK" || this.device === "CMY" ? 100 : 1;
    for (let i = 0; i < count; i++) values[i] = Math.min(most, Math.max(0, values[i]));
  }
}
