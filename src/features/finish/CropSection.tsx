"use client";
import { share } from "../../kinds/values";
import { sentence } from "../../messages/sentence";
import { message, type Telling } from "../../messages/message";
import { useEffect, useState, type ReactNode } from "react";
import { setGeometry } from "../../document/edits";
import type { Records } from "../../document/records/types";
import { documentSize, geometryOf } from "../../document/selectors";
import { outputGeometry } from "../../document/outputGeometry";
import { validCrop } from "../../document/validCrop";
import { edit } from "../../session/openJob";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Choices } from "../../ui/components/Choices";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { percent, pixels } from "../../ui/format";
import { StraightenControls } from "./StraightenControls";

const RATIOS: { label: string; ratio: number | null }[] = [
  { label: sentence("finish/free"), ratio: null },
  { label: "3:2", ratio: 3 / 2 },
  { label: "4:5", ratio: 4 / 5 },
  { label: "1:1", ratio: 1 },
  { label: "16:9", ratio: 16 / 9 },
  { label: "2:1", ratio: 2 },
];

/** How the picture is turned, ratio and size of what is delivered; never an empty pixel. */
export function CropSection(props: {
  records: Records;
  readOnly: boolean;
  isDrawingLine: boolean;
  onDrawLine: (on: boolean) => void;
  onPreview: (change: (r: Records) => Records) => void;
  children: ReactNode;
}) {
  const { records, readOnly, onPreview } = props;
  const { crop, ...turned } = outputGeometry(records);
  const { angleDeg, tilt } = turned;
  const ratio = geometryOf(records)?.ratio ?? null;
  // a crop that was drawn keeps its shape
  const shape = geometryOf(records) && ratio === null ? crop.width / crop.height : ratio;
  const [most, setMost] = useState(crop);
  useEffect(() => setMost(validCrop(records, { angleDeg, tilt }, shape)), [records, angleDeg, tilt, shape]);
  const kept = useRatiosKept(records);
  const apply = (r: number | null, label: Telling) =>
    edit(setGeometry({ angleDeg, crop: validCrop(records, turned, r), ratio: r }), { stage: "finish", label });
  const hold = (label: string) => {
    const held = RATIOS.find((r) => r.label === label)!.ratio;
    apply(held, held ? message("step.cropRatio", { ratio: label }) : "step.cropFree");
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
      <StraightenControls {...{ records, readOnly, onPreview }} isDrawing={props.isDrawingLine} onDraw={props.onDrawLine} />
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
      {kept && (
        <Soft style={{ marginTop: 6 }}>
          {sentence(message("finish/ratiosKeep", { list: kept.map(({ label, share: of }) => `${label} ${percent(of)}`).join(", ") }))}
        </Soft>
      )}
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

/** Looked for once the hand rests: each ratio is tried over all rows. */
const RESTING_MS = 300;

/** How much of the picture the largest crop of each ratio keeps; null until it is known. */
function useRatiosKept(records: Records): { label: string; share: number }[] | null {
  const [kept, setKept] = useState<{ label: string; share: number }[] | null>(null);
  const geometry = geometryOf(records);
  useEffect(() => {
    const soon = setTimeout(() => {
      const size = documentSize(records);
      if (!size) return;
      const { angleDeg, tilt } = outputGeometry(records);
      const largest = RATIOS.map(({ label, ratio }) => ({ label, crop: validCrop(records, { angleDeg, tilt }, ratio) }));
      const most = largest[0].crop.width * largest[0].crop.height;
      setKept(largest.slice(1).map(({ label, crop }) => ({ label, share: (crop.width * crop.height) / most })));
    }, RESTING_MS);
    return () => clearTimeout(soon);
    // what is covered changes with the registration, which has a set of its own steps; turns change it here
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [geometry?.angleDeg, geometry?.tilt]);
  return kept;
}
