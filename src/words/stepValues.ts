import { sentence } from "../messages/sentence";
import type { Step } from "../document/history";
import type { LayerRecord } from "../document/records/layerTypes";
import type { AnyRecord } from "../document/records/types";
import { wordsOf } from "../kinds/contents/words";
import { MERGE_WORDS } from "../kinds/merges/words";
import { numberText } from "./numbers";
import { say } from "../messages/say";

/** More would be cut off. */
const MOST = 4;
const percent = (share: number) => `${Math.round(100 * share)} %`;

/** The exact values that a step set, in one line: names and units as on the screen, and of what was changed only what is another. */
export function stepValues({ diff: { added, updated } }: Step): string {
  const pairs: [AnyRecord | null, AnyRecord][] = [...Object.values(added).map((r): [null, AnyRecord] => [null, r]), ...Object.values(updated)];
  return pairs
    .flatMap(([from, to]) => valuesOf(from, to))
    .slice(0, MOST)
    .join(" · ");
}

function valuesOf(from: AnyRecord | null, to: AnyRecord): string[] {
  switch (to.kind) {
    case "layer":
      return layerValues(from?.kind === "layer" ? from : null, to);
    case "geometry":
      return [`crop x ${to.crop.x} y ${to.crop.y} ${to.crop.width}×${to.crop.height}, ${numberText(to.angleDeg, 2)}°`];
    case "stroke":
      return [
        `${Math.round(to.diameterPx)} px, softness ${percent(to.softness)}, flow ${percent(to.flow)}, opacity limit ${percent(to.opacity)}, ${say("{points, plural, one {# point} other {# points}}", { points: to.points.length / 3 })}`,
      ];
    case "merge":
      return from?.kind === "merge" && from.method === to.method ? [] : [MERGE_WORDS[to.method].name.toLowerCase()];
    case "ghost":
      return [`place ${to.number}`];
    case "registration": {
      const worst = Math.max(...to.placements.map((p) => p.residualPx));
      return [`${to.placements.filter((p) => p.registered).length} placed, worst ${worst.toFixed(2)} px`];
    }
    case "acceptance":
      return to.reason ? [to.reason] : [];
    default:
      return [];
  }
}

/** Opacity and blend mode where they are not as they begin, and the values of what the layer shows. */
function layerValues(from: LayerRecord | null, to: LayerRecord): string[] {
  const all = ({ content, opacity, mode }: LayerRecord): Record<string, string> => ({
    ...wordsOf(content).values?.(content),
    opacity: percent(opacity),
    blends: sentence(`blend.${mode}`),
  });
  const before = from ? all(from) : { opacity: percent(1), blends: sentence("blend.normal") };
  return Object.entries(all(to)).flatMap(([name, value]) => ((before as Record<string, string>)[name] === value ? [] : [`${name} ${value}`]));
}
