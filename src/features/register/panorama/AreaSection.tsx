"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { useMemo, useState } from "react";
import { bendCost } from "../../../core/panorama/bend";
import { AS_TAKEN, setGeometry } from "../../../document/edits";
import type { PanoramaRecord } from "../../../document/records/panoramaTypes";
import type { RegistrationRecord } from "../../../document/records/types";
import { geometryOf, pinsOf } from "../../../document/selectors";
import { ask, edit } from "../../../session/openJob";
import { usePartsOf } from "../../../session/store";
import { showPanorama } from "../../../session/panorama";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Button } from "../../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { Select } from "../../../ui/components/Select";
import { pixels, withUnit } from "../../../ui/format";
import { RATIOS, StayControls } from "../CommonAreaSection";
import { useFoundArea, type Asked } from "../useFoundArea";

interface Props {
  panorama: PanoramaRecord;
  registration: RegistrationRecord;
  readOnly: boolean;
  keeping: boolean;
  onKeeping: (on: boolean) => void;
}

const findCrop = (asked: Asked) => ask("panoramaCrop", asked);

/** The largest crop inside the frames, at a ratio, with what must stay in it and the room that has. */
export function AreaSection({ panorama, registration, readOnly, keeping, onKeeping }: Props) {
  const { records, isBusy: busy } = usePartsOf("records", "isBusy");
  const [ratioId, setRatioId] = useState("free");
  const ratio = RATIOS.find((r) => r.id === ratioId)!.ratio;
  const { area, looking } = useFoundArea(findCrop, records, ratio);
  const stays = pinsOf(records).filter((p) => p.purpose === "stay");
  const found = area?.found ?? null;
  const inForce = geometryOf(records)?.crop ?? registration.proposedCrop;
  const taken = found && JSON.stringify(found.crop) === JSON.stringify(inForce);
  const { width, height, bend } = panorama.view;
  const cost = useMemo(() => bend && bendCost(bend, width, height), [bend, width, height]);
  return (
    <Section>
      <Heading>{sentence("common/crop")}</Heading>
      <Select label={sentence("common/ratio")} items={RATIOS} chosen={ratioId} onChoose={setRatioId} />
      <Soft style={{ marginTop: 6 }}>
        {!area
          ? sentence("common/measuring")
          : found
            ? sentence(message("register/lieWholly", { width: pixels(found.crop.width), height: pixels(found.crop.height) }))
            : stays.length
              ? sentence("register/whatMustStayDoes")
              : sentence("register/noRectangleLiesWholly")}
      </Soft>
      {found && stays.length > 0 && (
        <Soft>{sentence(message("register/roomBorder", { value: found.margins.map((m, i) => `${i + 1}: ${withUnit(pixels(m), "px")}`).join(", ") }))}</Soft>
      )}
      <MeasuredControl
        name={sentence("register/cornersFilledByWarping")}
        unit="%"
        value={100 * (bend?.amount ?? 0)}
        neutral={0}
        min={0}
        max={100}
        step={1}
        digits={0}
        hint={
          cost
            ? sentence(message("register/movesWhatLiesBorder", { px: pixels(cost.px), deg: cost.deg.toFixed(1) }))
            : sentence("register/towardsFullRectangleNothing")
        }
        isDisabled={readOnly || busy}
        onChange={(v) => void showPanorama({ bent: v / 100 }, v ? message("step.cornersFilled", { percent: Math.round(v) }) : "step.borderAsItLies")}
      />
      <RowOf>
        <Button
          isDisabled={readOnly || looking || !found || !!taken}
          onPress={() =>
            found &&
            edit(setGeometry({ ...AS_TAKEN, crop: found.crop, ratio }), {
              stage: "register",
              label: ratioId === "free" ? "step.croppedToCovered" : message("step.croppedTo", { ratio: ratioId }),
            })
          }
        >
          {taken ? sentence("common/inUse") : sentence("register/use")}
        </Button>
        <Button
          isDisabled={readOnly || (inForce.width === width && inForce.height === height)}
          onPress={() =>
            edit(setGeometry({ ...AS_TAKEN, crop: { x: 0, y: 0, width, height }, ratio: null }), {
              stage: "register",
              label: "step.wholePanorama",
            })
          }
        >
          {sentence("common/whole")}
        </Button>
        <StayControls readOnly={readOnly} keeping={keeping} onKeeping={onKeeping} />
      </RowOf>
    </Section>
  );
}
