"use client";
import { sentence } from "../../messages/sentence";
import { valueStep } from "../../messages/valueStep";
import { asMessage, message, type Telling } from "../../messages/message";
import { updatePart } from "../../document/layerEdits";
import type { LayerRecord } from "../../document/records/layerTypes";
import { framesToChoose } from "../../kinds/maskParts/controlling";
import { controlsOf } from "../../kinds/maskParts/controls";
import type { Combine } from "../../kinds/maskParts/fields";
import { isPainted, PART_RECORDS, type MaskPart } from "../../kinds/maskParts/records";
import { PART_WORDS } from "../../kinds/maskParts/words";
import { edit } from "../../session/openJob";
import { showLive } from "../../session/live";
import { useSession } from "../../session/store";
import { Choice } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { RowOf, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { plain } from "../../ui/format";

/** The values of one part of a mask and how it goes with those before it. */
export function PartControls({ layer, part, isDisabled }: { layer: LayerRecord; part: MaskPart; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const words = PART_WORDS[part.kind];
  const { values = {}, isMeasured } = PART_RECORDS[part.kind];
  const { Controls, shows, most } = controlsOf(part);
  const limits = most?.(records) ?? {};
  const change = (next: object, label: Telling) =>
    edit(updatePart(layer.id, part.id, next as Partial<MaskPart>), {
      stage: "compose",
      label: message("step.partChanged", { part: words.name, what: asMessage(label) }),
    });
  return (
    <>
      {!isPainted(part) && <Combined part={part} isDisabled={isDisabled} change={change} />}
      {words.hint && <Soft>{words.hint}</Soft>}
      {isMeasured && "of" in part && (
        <Select
          label={sentence("compose/measuredIn")}
          items={[{ id: "", label: sentence("common/theMerge") }, ...framesToChoose(records)]}
          chosen={part.of ?? ""}
          isDisabled={isDisabled}
          onChoose={(id) => change({ of: id || null }, id ? "step.part.inFrame" : "step.part.inMerge")}
        />
      )}
      {Controls && <Controls part={part} isDisabled={isDisabled} change={change} />}
      {(shows?.(part) ?? true) &&
        Object.entries(values).map(([of, value]) => {
          const said = words.values[of];
          const name = typeof said === "string" ? said : said.name;
          return (
            <MeasuredControl
              key={of}
              {...value}
              name={name}
              max={limits[of] ?? value.max}
              value={(part as unknown as Record<string, number>)[of]}
              isDisabled={isDisabled}
              onPreview={(v) => showLive(updatePart(layer.id, part.id, { [of]: v } as Partial<MaskPart>))}
              onChange={(v) => change({ [of]: v }, valueStep(name.toLowerCase(), plain(v * (value.scale ?? 1), value.digits), value.unit))}
            />
          );
        })}
      {!isPainted(part) && (
        <MeasuredControl
          name={sentence("compose/feather")}
          unit="px"
          value={part.featherPx}
          neutral={0}
          min={0}
          max={400}
          step={1}
          digits={0}
          isDisabled={isDisabled}
          onPreview={(v) => showLive(updatePart(layer.id, part.id, { featherPx: v }))}
          onChange={(v) => change({ featherPx: v }, message("step.part.feather", { px: Math.round(v) }))}
        />
      )}
    </>
  );
}

/** How a part goes with those before it. */
function Combined({ part, isDisabled, change }: { part: MaskPart; isDisabled: boolean; change: (next: Partial<MaskPart>, label: Telling) => void }) {
  return (
    <RowOf style={{ marginTop: 2 }}>
      <Select<Combine>
        label={sentence("compose/partsBefore")}
        items={[
          { id: "add", label: sentence("compose/add") },
          { id: "subtract", label: sentence("compose/subtract") },
          { id: "intersect", label: sentence("compose/intersect") },
        ]}
        chosen={part.combine}
        isDisabled={isDisabled}
        onChoose={(combine) =>
          change({ combine }, combine === "add" ? "step.part.adds" : combine === "subtract" ? "step.part.subtracts" : "step.part.intersects")
        }
      />
      <Choice
        isSelected={part.inverted}
        isDisabled={isDisabled}
        onChange={(inverted) => change({ inverted }, inverted ? "step.part.inverted" : "step.part.notInverted")}
      >
        {sentence("compose/invert")}
      </Choice>
    </RowOf>
  );
}
