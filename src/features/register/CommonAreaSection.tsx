"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useState } from "react";
import { addPin, removeRecord, AS_TAKEN, setGeometry } from "../../document/edits";
import type { FrameRecord, Records, RegistrationRecord } from "../../document/records/types";
import { frameNumber, geometryOf, pinsOf } from "../../document/selectors";
import { ask, edit } from "../../session/openJob";
import { useSession } from "../../session/store";
import { Button, Choice } from "../../ui/components/Button";
import { Select } from "../../ui/components/Select";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { percent, pixels } from "../../ui/format";
import { BorderNotes } from "../../view/BorderNotes";
import { useFoundArea, type Asked } from "./useFoundArea";

export const RATIOS = [
  { id: "free", label: sentence("register/free"), ratio: null },
  { id: "3:2", label: "3:2", ratio: 3 / 2 },
  { id: "4:3", label: "4:3", ratio: 4 / 3 },
  { id: "1:1", label: "1:1", ratio: 1 },
  { id: "16:9", label: "16:9", ratio: 16 / 9 },
  { id: "2:1", label: "2:1", ratio: 2 },
];
/** A frame that costs less than this is not worth a line. */
const WORTH_SAYING = 0.005;

interface Props {
  records: Records;
  registration: RegistrationRecord;
  reference: FrameRecord;
  readOnly: boolean;
  keeping: boolean;
  onKeeping: (on: boolean) => void;
}

const findCommonArea = (asked: Asked) => ask("commonArea", asked);

/** The largest crop that every frame covers, what must stay in it, and what each frame costs. */
export function CommonAreaSection({ records, registration, reference, readOnly, keeping, onKeeping }: Props) {
  const [ratioId, setRatioId] = useState("free");
  const ratio = RATIOS.find((r) => r.id === ratioId)!.ratio;
  const { area: known, looking } = useFoundArea(findCommonArea, records, ratio);
  const area = known?.found ?? null;
  const stays = pinsOf(records).filter((p) => p.purpose === "stay");
  const crop = area?.crop ?? null;
  const inForce = geometryOf(records)?.crop ?? registration.proposedCrop;
  const taken = crop && inForce.x === crop.x && inForce.y === crop.y && inForce.width === crop.width && inForce.height === crop.height;
  const whole = { x: 0, y: 0, width: reference.width, height: reference.height };
  const costs = (area?.costs ?? []).filter((c) => c.frameId !== registration.referenceId && c.gain > WORTH_SAYING).sort((a, b) => b.gain - a.gain);
  return (
    <Section>
      <Heading>{sentence("register/commonArea")}</Heading>
      <Select label={sentence("common/ratio")} items={RATIOS} chosen={ratioId} onChoose={setRatioId} />
      <Soft style={{ marginTop: 6 }}>
        {!area
          ? sentence("common/measuring")
          : crop
            ? sentence(
                message("register/coveredByAll", {
                  width: pixels(crop.width),
                  height: pixels(crop.height),
                  share: percent((crop.width * crop.height) / (reference.width * reference.height)),
                }),
              )
            : stays.length
              ? sentence("register/placesMustStayDo")
              : sentence("register/noAreaCoveredBy")}
      </Soft>
      {costs.slice(0, 3).map((c) => (
        <Soft key={c.frameId}>{sentence(message("register/withoutFrameYouKeep", { number: frameNumber(records, c.frameId), share: percent(c.gain) }))}</Soft>
      ))}
      <RowOf>
        <Button
          isDisabled={readOnly || looking || !crop || !!taken}
          onPress={() => crop && edit(setGeometry({ ...AS_TAKEN, crop, ratio }), { stage: "register", label: "step.croppedToCommon" })}
        >
          {taken ? sentence("common/inUse") : sentence("register/use")}
        </Button>
        <Button
          isDisabled={readOnly || inForce.width === whole.width}
          onPress={() => edit(setGeometry({ ...AS_TAKEN, crop: whole, ratio: null }), { stage: "register", label: "step.wholeReference" })}
        >
          {sentence("register/wholeFrame")}
        </Button>
        <StayControls readOnly={readOnly} keeping={keeping} onKeeping={onKeeping} />
      </RowOf>
      {keeping && <Soft style={{ marginTop: 6 }}>{sentence("register/clickWhatMustStay")}</Soft>}
      <BorderNotes records={records} by="reference" />
    </Section>
  );
}

/** Marking what must stay inside the crop, and letting go of all of it. */
export function StayControls({ readOnly, keeping, onKeeping }: Pick<Props, "readOnly" | "keeping" | "onKeeping">) {
  const records = useSession((s) => s.records);
  const stays = pinsOf(records).filter((p) => p.purpose === "stay");
  return (
    <>
      <Choice isSelected={keeping} isDisabled={readOnly} onChange={onKeeping}>
        {sentence("register/mustStay")}
      </Choice>
      {stays.length > 0 && (
        <Button
          isDisabled={readOnly}
          onPress={() => edit((r) => stays.reduce((all, p) => removeRecord(p.id)(all), r), { stage: "register", label: "step.staysRemoved" })}
        >
          {sentence(message("register/clearCount", { count: stays.length }))}
        </Button>
      )}
    </>
  );
}

/** Marks a place that must stay inside the crop. */
export function keepPlace(x: number, y: number): void {
  edit(addPin({ purpose: "stay", x: Math.round(x), y: Math.round(y), radius: 0, target: null }), {
    stage: "register",
    label: "step.stayMarked",
  });
}
