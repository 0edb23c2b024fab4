"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { useEffect, useState } from "react";
import { ask } from "../../../session/openJob";
import { report, useSession } from "../../../session/store";
import { Select } from "../../../ui/components/Select";
import { Soft } from "../../../ui/components/panels";
import { percent } from "../../../ui/format";
import { isCancelled } from "../../../workers/client/EngineClient";
import type { ControlsProps, PartControls } from "../controlling";
import { FOUND, type Found, type FoundArea } from "./record";
import { FOUND_WORDS } from "./words";

/** What is looked for, how much of the picture it is and how sure that is. */
function FoundControls({ part, isDisabled, change }: ControlsProps<FoundArea>) {
  const records = useSession((s) => s.records);
  const [judged, setJudged] = useState<{ share: number; confidence: number } | null>(null);
  const { what, x0, y0, x1, y1, tolerance } = part;
  useEffect(() => {
    const controller = new AbortController();
    setJudged(null);
    ask("judgeFound", { records, part: { what, x0, y0, x1, y1, tolerance } }, { signal: controller.signal })
      .then(setJudged)
      .catch((error: unknown) => isCancelled(error) || report(error));
    return () => controller.abort();
  }, [records, what, x0, y0, x1, y1, tolerance]);
  return (
    <>
      <Select<Found>
        label={sentence("masking/lookFor")}
        items={FOUND.map((id) => ({ id, label: FOUND_WORDS[id] }))}
        chosen={what}
        isDisabled={isDisabled}
        onChoose={(id) => change({ what: id }, message("step.part.lookedFor", { what: FOUND_WORDS[id].toLowerCase() }))}
      />
      {what === "subject" && <Soft>{sentence("masking/dragBoxAroundOn")}</Soft>}
      {what === "near" && <Soft>{sentence("masking/pressOnPictureWhere")}</Soft>}
      <Soft role="status">{foundSentence(judged)}</Soft>
    </>
  );
}

/** Below this what was found is not to be trusted without a look. */
const UNSURE = 0.8;

function foundSentence(judged: { share: number; confidence: number } | null): string {
  if (!judged) return sentence("masking/looking");
  if (judged.share === 0) return sentence("masking/nothingKindWasFound");
  const sure = sentence(message("masking/pictureSureShare", { share: percent(judged.share), value: Math.round(100 * judged.confidence) }));
  return judged.confidence < UNSURE ? sentence(message("masking/lookMendMoreParts", { sure })) : `${sure}.`;
}

export const found: PartControls<FoundArea> = {
  begin: ({ width, height }) => ({
    kind: "found",
    what: "sky",
    x0: width * 0.35,
    y0: height * 0.3,
    x1: width * 0.65,
    y1: height * 0.8,
    tolerance: 8,
  }),
  Controls: FoundControls,
  shows: ({ what }) => what === "near",
  isDrawn: ({ what }) => what === "subject" || what === "near",
  atOnce: ({ what }) => what === "near",
  drawn: (part, { from, to }) => (part.what === "near" ? { ...part, x0: to[0], y0: to[1] } : { ...part, x0: from[0], y0: from[1], x1: to[0], y1: to[1] }),
  Outline: ({ part, at }) => {
    const corners = [at(part.x0, part.y0), at(part.x1, part.y0), at(part.x1, part.y1), at(part.x0, part.y1)];
    if (part.what === "near") return <circle cx={corners[0][0]} cy={corners[0][1]} r={6} />;
    return <polygon points={corners.map((c) => c.join(",")).join(" ")} />;
  },
};
