"use client";
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
import { counted, percent, plain, signed, withUnit } from "../../ui/format";
import { Patch, Patches, PatchPicture } from "../../view/patches";
import type { Ranking } from "./useRanking";

const AIMS: { id: PlaceAim; label: string }[] = [
  { id: "sharp", label: "sharpest first" },
  { id: "light", label: "most light first" },
  { id: "shade", label: "least light first" },
  { id: "smooth", label: "stillest first" },
  { id: "clear", label: "least in the way first" },
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
      <Heading>Rank {counted(framesOfSet(records, chosen.setId).length, "frame")} by a place</Heading>
      {!found && (
        <Soft>
          {isBusy && pointed
            ? "Looking at the place in every frame."
            : "Click a place in the picture, or draw a box: every frame of the set is looked at there."}
        </Soft>
      )}
      {found && (
        <>
          <Select label="Order" items={AIMS} chosen={aim} onChoose={(id: PlaceAim) => ranking.setAim(id)} />
          <Soft>{explain(aim, found.ofScene)}</Soft>
          {lost > 0 && <Soft>{`The place was not found again in ${counted(lost, "frame")}; there it was looked at where it was pointed at.`}</Soft>}
          <Patches role="group" aria-label="The place in each frame" style={{ marginTop: 8, gridTemplateColumns: "repeat(3, minmax(0, 1fr))" }}>
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
            {ordered.length > shown && <Button onPress={() => setShown(shown + PAGE)}>Show more of {ordered.length}</Button>}
            <Button isDisabled={readOnly} onPress={() => ranking.pick(first, true)}>
              Take the first {first.length}
            </Button>
            {picked.size > 0 && <Button onPress={() => ranking.pick(ordered, false)}>Take none</Button>}
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
              {picked.size === 0 ? "Make a set of those taken" : `Make a set of ${counted(picked.size, "frame")}`}
            </PrimaryButton>
          </RowOf>
          {picked.size > JOB_LIMITS.framesOfSet && <Soft>A set is registered with at most {JOB_LIMITS.framesOfSet} frames.</Soft>}
        </>
      )}
    </Section>
  );
}

function explain(aim: PlaceAim, ofScene: boolean): string {
  if (aim === "sharp") return "Finest detail in the place, less the noise, against the sharpest frame.";
  if (aim === "smooth") return "How much light goes up and down from spot to spot, EV; little where water lies still.";
  if (aim === "clear") return "Share of the place that differs from what most frames show.";
  return ofScene ? "Light of the scene there, EV to the middle frame; noted exposures are taken off." : "Light there as shot, EV to the middle frame.";
}

function figureOf(aim: PlaceAim, frame: RankedFrame, all: RankedFrame[]): string {
  if (aim === "sharp") return percent(frame.sharpness / Math.max(1e-6, ...all.map((f) => f.sharpness)));
  if (aim === "smooth") return withUnit(plain(frame.ripple, 2), "EV");
  if (aim === "clear") return percent(frame.covered);
  const lights = all.map((f) => f.lightEv).sort((a, b) => a - b);
  return withUnit(signed(frame.lightEv - lights[lights.length >> 1], 1), "EV");
}
