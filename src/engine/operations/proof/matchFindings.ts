import { finding, type Finding } from "../../../document/finding";
import { neutralShift } from "../../../core/match/steps";
import { noiseBeside } from "../../../core/match/grainStep";
import { airLightAt, airNow, hiddenBy } from "../../../document/hazeEdits";
import { cameraOf, standsAt } from "../../../document/seatGeometry";
import { log2 } from "../../../core/numeric/elementary";
import { plateOf, layerOf, seatsOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { matchThing } from "../match/matchThing";
import type { PreparedJob } from "../layers/PreparedJob";
import { hueWord } from "./hueWord";

/** How far black and white of a thing may lie off its plate's, EV; its neutrals, ΔE; and its noise, times and 8-bit steps. Common practice, no source. */
const [DEEPER_EV, BRIGHTER_EV] = [1.5, 1];
const CAST = 6;
const [NOISE_TIMES, NOISE_STEPS] = [1.6, 0.6];

/** How much deeper than the air lets it look the black of a thing may be, EV, and how much more of a thing than of what stands farther may be hidden; and haze that matters at all. Common practice, no source. */
const [HAZE_EV, HIDDEN_MORE, LEAST_HAZE] = [0.7, 0.1, 0.004];

/** What is seated and was not matched with its plate: black, white, cast, noise and haze. */
export async function matchFindings(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Finding[]> {
  const { records } = job;
  const found: Finding[] = [];
  const plateRecord = plateOf(records);
  if (!plateRecord || plateRecord.byTaste) return found;
  const air = airNow(records);
  const standing: { layer: string; seatId: string; black: number; hidden: number; distanceM: number }[] = [];
  for (const seat of seatsOf(records)) {
    const layer = layerOf(records, seat.layerId)!;
    const told = await matchThing(ctx, records, seat.id, 1, task);
    if (!told) continue;
    const of = { cause: "compose" as const, remedy: { kind: "show" as const }, place: null, share: 0.05 };
    const { own, plate } = told;
    const foot = seat.on === "ground" ? standsAt(plateRecord, job.inputs, seat) : null;
    const distanceM = foot && cameraOf(plateRecord, job.inputs).distanceTo(foot);
    const haze = distanceM && air ? airLightAt(air, distanceM) : 0;
    const hazeEv = haze > LEAST_HAZE ? log2(haze) - own.mono.black : 0;
    if (distanceM && haze > LEAST_HAZE)
      standing.push({ layer: layer.name, seatId: seat.id, black: own.mono.black, hidden: hiddenBy(records, layer.id, distanceM), distanceM });
    if (distanceM && hazeEv > HAZE_EV)
      found.push(finding("hazeUnlike", { layer: layer.name, ev: hazeEv, distanceM }, { ...of, id: `hazeUnlike-${seat.id}`, weight: 0.4 }));
    for (const [end, ev, most] of [
      ["black", plate.mono.black - own.mono.black, DEEPER_EV],
      ["white", own.mono.white - plate.mono.white, BRIGHTER_EV],
    ] as const)
      if (ev > most && !(end === "black" && hazeEv > HAZE_EV))
        found.push(finding("endsUnlike", { layer: layer.name, end, ev }, { ...of, id: `endsUnlike-${end}-${seat.id}`, weight: 0.4 }));
    const [a, b] = neutralShift(own, plate);
    const deltaE = Math.hypot(a, b);
    if (deltaE > CAST)
      found.push(finding("castUnlike", { layer: layer.name, deltaE, towards: hueWord(a, b) }, { ...of, id: `castUnlike-${seat.id}`, weight: 0.4 }));
    const noise = noiseBeside(told.noise.own, told.noise.plate);
    if (noise && Math.abs(noise.own - noise.other) > NOISE_STEPS && Math.max(noise.own, noise.other) > NOISE_TIMES * Math.min(noise.own, noise.other)) {
      const how = noise.own < noise.other ? "quieter" : "noisier";
      found.push(
        finding("noiseUnlike", { layer: layer.name, how, sigma: noise.own, plateSigma: noise.other }, { ...of, id: `noiseUnlike-${seat.id}`, weight: 0.3 }),
      );
    }
  }
  standing.sort((a, b) => a.distanceM - b.distanceM);
  standing.slice(1).forEach((far, i) => {
    const near = standing[i];
    const ev = near.black - far.black;
    // what is light by itself is not hazy: the air that lies on both tells, and what shows has to agree
    if (near.hidden > far.hidden + HIDDEN_MORE && ev > 0)
      found.push(
        finding(
          "hazeOrder",
          { nearer: near.layer, farther: far.layer, ev },
          { cause: "compose", remedy: { kind: "show" }, place: null, share: 0.05, id: `hazeOrder-${far.seatId}`, weight: 0.4 },
        ),
      );
  });
  return found;
}
