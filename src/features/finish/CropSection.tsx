"use client";
import { share } from "../../kinds/values";
import { sentence } from "../../messages/sentence";
import { message, type Telling } from "../../messages/message";
import { useEffect, useState, type ReactNode } from "react";
import { setGeometry } from "../../document/edits";
import type { Records } from "../../document/records/types";
import { geometryOf } from "../../document/selectors";
import { outputGeometry } from "../../document/outputGeometry";
import { validCrop } from "../../document/validCrop";
import { edit } from "../../session/openJob";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Choices } from "../../ui/components/Choices";
import { Heading, RowOf, Section } from "../../ui/components/panels";
import { pixels } from "../../ui/format";

const RATIOS: { label: string; ratio: number | null }[] = [
  { label: sentence("finish/free"), ratio: null },
  { label: "3:2", ratio: 3 / 2 },
  { label: "4:5", ratio: 4 / 5 },
  { label: "1:1", ratio: 1 },
  { label: "16:9", ratio: 16 / 9 },
  { label: "2:1", ratio: 2 },
];

/** Rotation, ratio and size of what is delivered; never an empty pixel. */
export function CropSection(props: { records: Records; readOnly: boolean; onPreview: (change: (r: Records) => Records) => void; children: ReactNode }) {
  const { records, readOnly, onPreview } = props;
  const { angleDeg, crop } = outputGeometry(records);
  const ratio = geometryOf(records)?.ratio ?? null;
  // a crop that was drawn keeps its shape
  const shape = geometryOf(records) && ratio === null ? crop.width / crop.height : ratio;
  const [most, setMost] = useState(crop);
  useEffect(() => setMost(validCrop(records, angleDeg, shape)), [records, angleDeg, shape]);
  const apply = (angle: number, r: number | null, label: Telling) =>
    edit(setGeometry({ angleDeg: angle, crop: validCrop(records, angle, r), ratio: r }), { stage: "finish", label });
  const hold = (label: string) => {
    const held = RATIOS.find((r) => r.label === label)!.ratio;
    apply(angleDeg, held, held ? message("step.cropRatio", { ratio: label }) : "step.cropFree");
  };
  const inset = 1 - crop.width / most.width;
  /** A smaller crop inside the largest valid one, moved by shares of the room that is left. */
  const place = (smaller: number, px: number, py: number) => {
    const width = Math.max(16, Math.round(most.width * (1 - smaller)));
    const height = Math.max(16, Math.round(most.height * (1 - smaller)));
    return setGeometry({
      angleDeg,
      ratio,
      crop: { width, height, x: most.x + Math.round((most.width - width) * px), y: most.y + Math.round((most.height - height) * py) },
    });
  };
  const room = { x: most.width - crop.width, y: most.height - crop.height };
  const px = room.x > 0 ? Math.min(1, Math.max(0, (crop.x - most.x) / room.x)) : 0.5;
  const py = room.y > 0 ? Math.min(1, Math.max(0, (crop.y - most.y) / room.y)) : 0.5;
  return (
    <Section>
      <Heading>{sentence("finish/straightenAndCrop")}</Heading>
      <MeasuredControl
        name={sentence("common/rotation")}
        unit="°"
        value={angleDeg}
        neutral={0}
        min={-10}
        max={10}
        step={0.05}
        digits={2}
        isDisabled={readOnly}
        onPreview={(v) => onPreview(setGeometry({ angleDeg: v, crop, ratio }))}
        onChange={(v) => apply(v, ratio, message("step.cropTurned", { degrees: v }))}
      />
      <RowOf>
        {props.children}
        <Choices
          label={sentence("common/ratio")}
          within
          items={RATIOS.map(({ label }) => ({ id: label, label }))}
          chosen={RATIOS.find((r) => r.ratio === ratio)?.label ?? null}
          isDisabled={readOnly}
          onChoose={hold}
        />
      </RowOf>
      <MeasuredControl
        name={sentence("finish/cutAway")}
        {...share(0, 0, 0.8)}
        value={Math.max(0, inset)}
        isDisabled={readOnly}
        proposal={{ value: 0, reason: sentence(message("finish/mostHoldsNoEmpty", { width: pixels(most.width), height: pixels(most.height) })) }}
        onPreview={(v) => onPreview(place(v, px, py))}
        onChange={(v) => edit(place(v, px, py), { stage: "finish", label: message("step.cropCut", { percent: Math.round(v * 100) }) })}
      />
      {inset > 0.004 &&
        (["across", "down"] as const).map((way) => {
          const placed = (v: number) => (way === "across" ? place(inset, v, py) : place(inset, px, v));
          return (
            <MeasuredControl
              key={way}
              name={sentence(message("finish/placeWay", { way }))}
              {...share(0.5)}
              value={way === "across" ? px : py}
              isDisabled={readOnly}
              onPreview={(v) => onPreview(placed(v))}
              onChange={(v) => edit(placed(v), { stage: "finish", label: "step.cropMoved" })}
            />
          );
        })}
    </Section>
  );
}
