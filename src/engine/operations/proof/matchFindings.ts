import { finding, type Finding } from "../../../document/finding";
import { neutralShift } from "../../../core/match/steps";
import { noiseBeside } from "../../../core/match/grainStep";
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

/** What is seated and was not matched with its plate: black, white, cast and noise. */
export async function matchFindings(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Finding[]> {
  const { records } = job;
  const found: Finding[] = [];
  const plateRecord = plateOf(records);
  if (!plateRecord || plateRecord.byTaste) return found;
  for (const seat of seatsOf(records)) {
    const layer = layerOf(records, seat.layerId)!;
    const told = await matchThing(ctx, records, seat.id, 1, task);
    if (!told) continue;
    const of = { cause: "compose" as const, remedy: { kind: "show" as const }, place: null, share: 0.05 };
    const { own, plate } = told;
    for (const [end, ev, most] of [
      ["black", plate.mono.black - own.mono.black, DEEPER_EV],
      ["white", own.mono.white - plate.mono.white, BRIGHTER_EV],
    ] as const)
      if (ev > most) found.push(finding("endsUnlike", { layer: layer.name, end, ev }, { ...of, id: `endsUnlike-${end}-${seat.id}`, weight: 0.4 }));
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
  return found;
}
