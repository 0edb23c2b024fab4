import { GroundCamera } from "../../core/seat/groundCamera";
import { lightFromShadows, type LightDirection, type ShadowMark } from "../../core/seat/lightFromShadows";
import { combineShadows } from "../../core/seat/measureShadow";
import { pointDirection } from "../../core/seat/fitStance";
import { horizonEnds, pixelOfLocal } from "../../core/seat/upright";
import type { FoundPlate } from "../../core/seat/findPlate";
import { notedFocal } from "../../document/seatEdits";
import { sentence } from "../../messages/sentence";
import { createNodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { numbersOf, progressTask, report, ROOT, threadsOf, type Options } from "../options";
import { UsageError } from "../UsageError";

/** Horizon, lens and light of a picture; see docs/cli.md for the contract. */
export async function plate(files: string[], options: Options): Promise<number> {
  if (files.length !== 1) throw new UsageError("plate needs one picture.");
  const length = options.length === undefined ? null : numbersOf("--length", "x0,y0,x1,y1,METRES", options.length, 5);
  const height = options["camera-height"] === undefined ? null : numbersOf("--camera-height", "metres", options["camera-height"], 1)[0];
  const marks = (Array.isArray(options.shadow) ? options.shadow : []).map(markOf);
  if (length && height !== null) throw new UsageError("plate takes one of --length and --camera-height.");
  if (length && !(length[4] > 0)) throw new UsageError("--length has metres above 0.");
  if (height !== null && !(height > 0)) throw new UsageError("--camera-height is above 0.");
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const task = progressTask(options);
  const [gathered] = (await gatherFiles(node, "plate", files, task)).files;
  if (!gathered.frame) throw new Error(`${gathered.path}: ${gathered.error}`);
  const { frame } = gathered;
  const size = { width: frame.width, height: frame.height };
  const outside = [...marks.flatMap((m) => [m.foot, m.top, m.tip]), ...(length ? [length.slice(0, 2), length.slice(2, 4)] : [])].find(
    (p) => p && (p[0] < 0 || p[1] < 0 || p[0] > size.width - 1 || p[1] > size.height - 1),
  );
  if (outside) throw new UsageError(`The place ${outside.join(",")} lies outside of the picture, which is ${size.width}×${size.height} px.`);
  const noted = notedFocal(frame);
  const found = await node.ask("findPlate", { frame, focal: noted }, task);
  const cameraHeightM = found && length ? GroundCamera.heightByLength(size, found.stance, [length[0], length[1]], [length[2], length[3]], length[4]) : height;
  if (found && length && cameraHeightM === null) throw new UsageError("--length lies along the ground, below the horizon.");
  const camera = found && new GroundCamera(size, found.stance, cameraHeightM ?? 1);
  const unsure = { horizonDeg: found?.horizonSigmaDeg ?? 0, focalShare: found?.focalSigma ?? 0 };
  const direction = camera && marks.length ? lightFromShadows(camera, marks, unsure) : null;
  if (typeof direction === "string") throw new UsageError(sentence(`shadows.${direction}`));
  const shadows =
    direction && found ? await node.ask("measureShadows", { frame, stance: found.stance, heightM: cameraHeightM ?? 1, marks, light: direction }, task) : [];
  const light = lightFigures(direction, combineShadows(shadows));
  const focalFrom = { known: "metadata", directions: "directions", guess: "guess" } as const;
  const json = {
    version: 1,
    horizon: found ? horizonEnds(found.stance, size) : null,
    vanishing: found ? vanishingOf(found, size) : [],
    focalPx: found?.stance.focalPx ?? noted?.px ?? null,
    focalFrom: found ? focalFrom[found.focalFrom] : noted ? "metadata" : null,
    cameraHeightM,
    light,
    uncertainty: {
      horizonDeg: found?.horizonSigmaDeg ?? null,
      focalPercent: found ? 100 * found.focalSigma : noted ? 100 * noted.sigma : null,
      lightDeg: direction?.sigmaDeg ?? null,
    },
  };
  report(options, json, [
    found
      ? `The horizon runs ${Math.abs(found.stance.rollDeg).toFixed(2)}° ${found.stance.rollDeg < 0 ? "up" : "down"} to the right, ± ${found.horizonSigmaDeg.toFixed(2)}°; the camera looks ${found.stance.pitchDeg.toFixed(1)}° up`
      : "The lines of this picture tell no horizon",
    ...(json.focalPx ? [`The focal length is ${Math.round(json.focalPx)} px, by ${json.focalFrom}`] : []),
    ...(direction
      ? [`The light comes from ${direction.azimuthDeg.toFixed(1)}°, ${direction.elevationDeg.toFixed(1)}° high, ± ${direction.sigmaDeg.toFixed(1)}°`]
      : []),
  ]);
  return 0;
}

function lightFigures(direction: LightDirection | null, shadow: ReturnType<typeof combineShadows>) {
  const unknown = { kind: "unknown", azimuthDeg: null, elevationDeg: null, sourceDeg: null, ratioEv: null, shadowMired: null, confidence: 0 };
  if (!direction) return unknown;
  // as sure as a direction within a few degrees is
  const confidence = Math.exp(-direction.sigmaDeg / 10);
  const { azimuthDeg, elevationDeg } = direction;
  return {
    kind: "sun",
    azimuthDeg,
    elevationDeg,
    sourceDeg: shadow?.sourceDeg ?? null,
    ratioEv: shadow?.ratioEv ?? null,
    shadowMired: shadow?.shadowMired ?? null,
    confidence,
  };
}

/** Where found lines meet, px; what meets straight behind or at no finite place is left out. */
function vanishingOf({ stance, vanishing }: FoundPlate, size: { width: number; height: number }) {
  return vanishing.flatMap((point) => {
    const at = pixelOfLocal(pointDirection(stance, point), stance.focalPx, size);
    return at ? [{ x: at[0], y: at[1], of: point.of }] : [];
  });
}

function markOf(text: string): ShadowMark {
  const form = "footX,footY,topX,topY,tipX,tipY, or topX,topY,tipX,tipY where the foot is hidden";
  const isHidden = text.split(",").length === 4;
  const numbers = numbersOf("--shadow", form, text, isHidden ? 4 : 6);
  const [tx, ty, x, y] = numbers.slice(-4);
  return { foot: isHidden ? null : [numbers[0], numbers[1]], top: [tx, ty], tip: [x, y] };
}
