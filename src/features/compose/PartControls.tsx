"use client";
import { useEffect, useState } from "react";
import { updatePart } from "../../document/layerEdits";
import { FOUND, isPainted, type Combine, type Found, type LayerRecord, type MaskPart } from "../../document/records/layerTypes";
import { frameNumber, mergedFramesOf } from "../../document/selectors";
import { engine } from "../../session/engine";
import { edit } from "../../session/openJob";
import { report, useSession } from "../../session/store";
import { Choice } from "../../ui/components/Button";
import { MeasuredControl, type ValueRange } from "../../ui/components/MeasuredControl";
import { RowOf, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { percent, plain } from "../../ui/format";
import { isCancelled } from "../../workers/client/EngineClient";
import { FOUND_NAMES, PART_NAMES } from "./layerWords";
import { showLive } from "../../session/live";

/** A value of a part, and the field that holds it. */
type Range = ValueRange & { of: string };

const evOf = (of: string, name: string, neutral: number, min = -16, max = 10): Range => ({ of, name, unit: "EV", neutral, min, max, step: 0.05, digits: 2 });
const encoded = (of: string, name: string, neutral: number): Range => ({ of, name, unit: "", neutral, min: 0, max: 1, step: 0.005, digits: 3 });

/** The values of the parts that have some. */
const RANGES: Partial<Record<MaskPart["kind"], Range[]>> = {
  ellipse: [{ of: "angleDeg", name: "Turned", unit: "°", neutral: 0, min: -180, max: 180, step: 1, digits: 0 }],
  light: [evOf("fromEv", "From", -3), evOf("toEv", "To", 8), evOf("softEv", "Softness", 1, 0, 6)],
  hue: [
    { of: "hueDeg", name: "Centre", unit: "°", neutral: 60, min: 0, max: 360, step: 1, digits: 0 },
    { of: "widthDeg", name: "Width", unit: "°", neutral: 60, min: 5, max: 180, step: 1, digits: 0 },
    { of: "leastChroma", name: "Least chroma", unit: "", neutral: 0.03, min: 0, max: 0.3, step: 0.005, digits: 3 },
  ],
  channel: [encoded("low", "Black at", 0.4), encoded("high", "White at", 0.6)],
  sharpness: [
    { of: "sizePx", name: "Detail up to", unit: "px", neutral: 4, min: 0.3, max: 100, step: 0.1, digits: 1 },
    { ...evOf("fromEv", "From", 0.1, 0, 3), step: 0.01 },
    { ...evOf("softEv", "Softness", 0.05, 0, 2), step: 0.01 },
  ],
  soften: [{ of: "sigmaPx", name: "Blurred by", unit: "px", neutral: 12, min: 0.3, max: 200, step: 0.5, digits: 1 }],
  depth: [
    { of: "from", name: "From frame", unit: "", neutral: 1, min: 0, max: 100, step: 0.1, digits: 1 },
    { of: "to", name: "To frame", unit: "", neutral: 1, min: 0, max: 100, step: 0.1, digits: 1 },
    { of: "soft", name: "Softness", unit: "", neutral: 0.5, min: 0, max: 10, step: 0.1, digits: 1 },
  ],
  found: [{ of: "tolerance", name: "Within", unit: "ΔE", neutral: 8, min: 0.5, max: 60, step: 0.5, digits: 1 }],
  difference: [evOf("fromEv", "From", 0.5, 0, 6), evOf("softEv", "Softness", 0.25, 0, 4)],
};

const CHANNELS = ["Red", "Green", "Blue"];
const DRAWN = "Drag on the picture to draw it anew.";
const HINTS: Partial<Record<MaskPart["kind"], string>> = {
  ramp: DRAWN,
  ellipse: "Drag on the picture from its centre; with d held, a circle.",
  polygon: DRAWN,
};

type FoundPart = MaskPart & { kind: "found" };

/** What is looked for, how much of the picture it is and how sure that is. */
function FoundControls({ part, isDisabled, onChange }: { part: FoundPart; isDisabled: boolean; onChange: (next: Partial<FoundPart>, label: string) => void }) {
  const { records } = useSession();
  const [judged, setJudged] = useState<{ share: number; confidence: number } | null>(null);
  const { what, x0, y0, x1, y1, tolerance } = part;
  useEffect(() => {
    const controller = new AbortController();
    setJudged(null);
    engine
      .call("judgeFound", { records, part: { what, x0, y0, x1, y1, tolerance } }, { signal: controller.signal })
      .then(setJudged)
      .catch((error: unknown) => isCancelled(error) || report(error));
    return () => controller.abort();
  }, [records, what, x0, y0, x1, y1, tolerance]);
  return (
    <>
      <Select<Found>
        label="Look for"
        items={FOUND.map((id) => ({ id, label: FOUND_NAMES[id] }))}
        chosen={what}
        isDisabled={isDisabled}
        onChoose={(id) => onChange({ what: id }, `Looked for: ${FOUND_NAMES[id].toLowerCase()}`)}
      />
      {what === "subject" && <Soft>Drag a box around it on the picture.</Soft>}
      {what === "near" && <Soft>Press on the picture where it is.</Soft>}
      <Soft role="status">{foundSentence(judged)}</Soft>
    </>
  );
}

/** Below this what was found is not to be trusted without a look. */
const UNSURE = 0.8;

function foundSentence(judged: { share: number; confidence: number } | null): string {
  if (!judged) return "Looking …";
  if (judged.share === 0) return "Nothing of the kind was found here.";
  const sure = `${percent(judged.share)} of the picture, ${Math.round(100 * judged.confidence)} % sure`;
  return judged.confidence < UNSURE ? `${sure}: look at it, and mend it with more parts or the brush.` : `${sure}.`;
}

/** The values of one part of a mask and how it goes with those before it. */
export function PartControls({ layer, part, isDisabled }: { layer: LayerRecord; part: MaskPart; isDisabled: boolean }) {
  const { records } = useSession();
  const name = PART_NAMES[part.kind];
  const change = (next: Partial<MaskPart>, label: string) => edit(updatePart(layer.id, part.id, next), { stage: "compose", label });
  const frames = mergedFramesOf(records).map(({ frame }) => ({ id: frame.id, label: `Frame ${frameNumber(records, frame.id)}` }));
  const pick = (label: string, of: "aId" | "bId", chosen: string) => (
    <Select
      label={label}
      items={frames}
      chosen={chosen}
      isDisabled={isDisabled}
      onChoose={(id) => change({ [of]: id } as Partial<MaskPart>, `${name}: another frame`)}
    />
  );
  return (
    <>
      {!isPainted(part) && (
        <RowOf style={{ marginTop: 2 }}>
          <Select<Combine>
            label="With the parts before"
            items={[
              { id: "add", label: "Add" },
              { id: "subtract", label: "Subtract" },
              { id: "intersect", label: "Intersect" },
            ]}
            chosen={part.combine}
            isDisabled={isDisabled}
            onChoose={(combine) => change({ combine }, `${name} ${combine === "add" ? "adds" : combine === "subtract" ? "subtracts" : "intersects"}`)}
          />
          <Choice isSelected={part.inverted} isDisabled={isDisabled} onChange={(inverted) => change({ inverted }, `${name} inverted`)}>
            Invert
          </Choice>
        </RowOf>
      )}
      {HINTS[part.kind] && <Soft>{HINTS[part.kind]}</Soft>}
      {(part.kind === "light" || part.kind === "hue" || part.kind === "channel" || part.kind === "sharpness") && (
        <Select
          label="Measured in"
          items={[{ id: "", label: "The merge" }, ...frames]}
          chosen={part.of ?? ""}
          isDisabled={isDisabled}
          onChoose={(id) => change({ of: id || null }, `${name} measured in ${id ? "a frame" : "the merge"}`)}
        />
      )}
      {part.kind === "found" && <FoundControls part={part} isDisabled={isDisabled} onChange={change} />}
      {part.kind === "channel" && (
        <Select
          label="Channel"
          items={CHANNELS.map((label, i) => ({ id: String(i), label }))}
          chosen={String(part.channel)}
          isDisabled={isDisabled}
          onChoose={(c) => change({ channel: Number(c) as 0 | 1 | 2 }, `${name}: ${CHANNELS[Number(c)].toLowerCase()}`)}
        />
      )}
      {part.kind === "difference" && (
        <>
          {pick("Between", "aId", part.aId)}
          {pick("and", "bId", part.bId)}
        </>
      )}
      {(part.kind === "found" && part.what !== "near" ? [] : (RANGES[part.kind] ?? [])).map(({ of, ...range }) => (
        <MeasuredControl
          key={of}
          {...range}
          max={part.kind === "depth" && of !== "soft" ? frames.length : range.max}
          value={(part as unknown as Record<string, number>)[of]}
          isDisabled={isDisabled}
          onPreview={(v) => showLive(updatePart(layer.id, part.id, { [of]: v } as Partial<MaskPart>))}
          onChange={(v) => change({ [of]: v } as Partial<MaskPart>, `${name}: ${range.name.toLowerCase()} ${plain(v, range.digits)} ${range.unit}`.trimEnd())}
        />
      ))}
      {!isPainted(part) && (
        <MeasuredControl
          name="Feather"
          unit="px"
          value={part.featherPx}
          neutral={0}
          min={0}
          max={400}
          step={1}
          digits={0}
          isDisabled={isDisabled}
          onPreview={(v) => showLive(updatePart(layer.id, part.id, { featherPx: v }))}
          onChange={(v) => change({ featherPx: v }, `${name}: feather ${Math.round(v)} px`)}
        />
      )}
    </>
  );
}
