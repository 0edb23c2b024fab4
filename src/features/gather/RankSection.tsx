"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useState } from "react";
import type { PlaceAim } from "../../core/measure/rankPlace";
import { JOB_LIMITS } from "../../document/limits";
import type { FrameRecord } from "../../document/records/types";
import { framesOf, framesOfSet } from "../../document/selectors";
import type { RankedFrame } from "../../engine/operations/gather/rankFrames";
import { compareSet } from "../../session/comparing";
import { usePartsOf } from "../../session/store";
import { Button, PrimaryButton } from "../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { percent, plain, signed, withUnit } from "../../ui/format";
import { Patch, Patches, PatchPicture } from "../../view/patches";
import type { Ranking } from "./useRanking";

const AIMS: { id: PlaceAim; label: string }[] = [
  { id: "sharp", label: sentence("gather/sharpestFirst") },
  { id: "light", label: sentence("gather/mostLightFirst") },
  { id: "shade", label: sentence("gather/leastLightFirst") },
  { id: "smooth", label: sentence("gather/stillestFirst") },
  { id: "clear", label: sentence("gather/leastWayFirst") },
];
/** Frames shown at once. */
const PAGE = 12;

interface Props {
  ranking: Ranking;
  chosen: FrameRecord;
  onChoose: (id: string) => void;
}

/** The same place in every frame of a set, best first; what is picked becomes a set of its own. */
export function RankSection({ ranking, chosen, onChoose }: Props) {
  const { records, readOnly, isBusy } = usePartsOf("records", "readOnly", "isBusy");
  const [shown, setShown] = useState(PAGE);
  const { aim, ordered, picked, found, pointed } = ranking;
  const all = framesOf(records);
  const words = AIMS.find((a) => a.id === aim)!.label;
  const lost = ordered.filter((f) => !f.found).length;
  const first = ordered.slice(0, Math.min(5, JOB_LIMITS.framesOfSet));
  return (
    <Section>
      <Heading>{sentence(message("gather/rankFramesByPlace", { count: framesOfSet(records, chosen.setId).length }))}</Heading>
      {!found && <Soft>{isBusy && pointed ? sentence("gather/lookingPlaceEveryFrame") : sentence("gather/clickPlacePictureDraw")}</Soft>}
      {found && (
        <>
          <Select label={sentence("gather/order")} items={AIMS} chosen={aim} onChoose={(id: PlaceAim) => ranking.setAim(id)} />
          <Soft>{explain(aim, found.ofScene)}</Soft>
          {lost > 0 && <Soft>{sentence(message("gather/placeWasNotFound", { lost }))}</Soft>}
          <Patches role="group" aria-label={sentence("gather/placeEachFrame")} style={{ marginTop: 8, gridTemplateColumns: "repeat(3, minmax(0, 1fr))" }}>
            {ordered.slice(0, shown).map((f) => {
              const frame = all.find((a) => a.id === f.frameId)!;
              return (
                <Patch
                  key={f.frameId}
                  isSelected={picked.has(f.frameId)}
                  isDisabled={readOnly}
                  onChange={(taken) => {
                    ranking.pick([f], taken);
                    onChoose(f.frameId);
                  }}
                >
                  <PatchPicture view={{ kind: "source", frameId: f.frameId }} rectangle={f.found ?? pointed!.place} of={frame} />
                  <span>
                    {all.indexOf(frame) + 1}: {figureOf(aim, f, found.frames)}
                  </span>
                </Patch>
              );
            })}
          </Patches>
          <RowOf>
            {ordered.length > shown && (
              <Button onPress={() => setShown(shown + PAGE)}>{sentence(message("gather/showMoreOf", { count: ordered.length }))}</Button>
            )}
            <Button isDisabled={readOnly} onPress={() => ranking.pick(first, true)}>
              {sentence(message("gather/takeTheFirst", { count: first.length }))}
            </Button>
            {picked.size > 0 && <Button onPress={() => ranking.pick(ordered, false)}>{sentence("gather/takeNone")}</Button>}
          </RowOf>
          <RowOf>
            <PrimaryButton
              isDisabled={readOnly || isBusy || picked.size === 0 || picked.size > JOB_LIMITS.framesOfSet}
              onPress={() => {
                const next = ranking.take(words);
                if (next) onChoose(next);
                void compareSet();
              }}
            >
              {picked.size === 0 ? sentence("gather/makeSetThoseTaken") : sentence(message("gather/makeSetFrames", { size: picked.size }))}
            </PrimaryButton>
          </RowOf>
          {picked.size > JOB_LIMITS.framesOfSet && <Soft>{sentence(message("gather/setRegisteredMostFrames", { framesOfSet: JOB_LIMITS.framesOfSet }))}</Soft>}
        </>
      )}
    </Section>
  );
}

function explain(aim: PlaceAim, ofScene: boolean): string {
  if (aim === "sharp") return sentence("gather/finestDetailPlaceLess");
  if (aim === "smooth") return sentence("gather/howMuchLightGoes");
  if (aim === "clear") return sentence("gather/sharePlaceDiffersFrom");
  return ofScene ? sentence("gather/lightSceneThereEv") : sentence("gather/lightThereShotEv");
}

function figureOf(aim: PlaceAim, frame: RankedFrame, all: RankedFrame[]): string {
  if (aim === "sharp") return percent(frame.sharpness / Math.max(1e-6, ...all.map((f) => f.sharpness)));
  if (aim === "smooth") return withUnit(plain(frame.ripple, 2), "EV");
  if (aim === "clear") return percent(frame.covered);
  const lights = all.map((f) => f.lightEv).sort((a, b) => a - b);
  return withUnit(signed(frame.lightEv - lights[lights.length >> 1], 1), "EV");
}
