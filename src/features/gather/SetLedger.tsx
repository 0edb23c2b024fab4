"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { memo, useRef, useState, type ReactNode } from "react";
import { useDragAndDrop, useDrop, type TextDropItem } from "react-aria-components";
import styled from "styled-components";
import { SET_WORDS } from "../../kinds/sets/words";
import type { SetKind } from "../../kinds/sets/records";
import type { Oddity } from "../../core/measure/sets/verifySet";
import { moveFrames, setKindOf, workOnSet } from "../../document/edits";
import { summarizeSet } from "../../document/sets";
import type { FrameRecord, Records, SetRecord } from "../../document/records/types";
import { exposuresOf, framesOf, framesOfSet, registrationOf, setsOf, workingSetIdOf } from "../../document/selectors";
import { edit } from "../../session/openJob";
import { setSentence } from "../../words/sets";
import { useSession, usePartsOf } from "../../session/store";
import { Button, TextButton } from "../../ui/components/Button";
import { Select } from "../../ui/components/Select";
import { Ledger, LedgerCell, LedgerRow, useInTurn } from "../../ui/components/Ledger";
import { Card, Figure, Heading, RowOf, Section, Soft, TwoLines } from "../../ui/components/panels";
import { tokens } from "../../ui/tokens/tokens";
import { percent, plain, shutter, signed } from "../../ui/format";

const KINDS = (Object.keys(SET_WORDS) as SetKind[]).map((id) => ({ id, label: SET_WORDS[id].name }));
const FRAME_TYPE = "text/marsh-frame";

const Target = styled.div`
  &[data-drop-target] {
    outline: 2px dashed ${tokens.text};
    outline-offset: -3px;
  }
`;

interface Props {
  chosen: FrameRecord;
  onChoose: (id: string) => void;
}

/** Every set with its frames; the one worked on is open. Frames move between sets by drag, or by the choice on the bench. */
export function SetLedger({ chosen, onChoose }: Props) {
  const records = useSession((s) => s.records);
  const sets = setsOf(records).filter((s) => framesOfSet(records, s.id).length > 0);
  const several = sets.length > 1;
  // the one worked on stands first: of another there may be hundreds of frames
  const working = workingSetIdOf(records);
  const shown = [...sets.filter((s) => s.id === working), ...sets.filter((s) => s.id !== working)];
  return (
    <>
      {several && (
        <Section>
          <Heading>{sentence(message("gather/setsCount", { count: sets.length }))}</Heading>
          <Soft>{sentence("gather/oneWorkedOnRegistered")}</Soft>
        </Section>
      )}
      {shown.map((set) => (
        <DropTarget key={set.id} setId={set.id} name={sentence(message("gather/set", { value: sets.indexOf(set) + 1 }))}>
          <SetBlock set={set} number={sets.indexOf(set) + 1} several={several} chosen={chosen} onChoose={onChoose} />
        </DropTarget>
      ))}
      {several && (
        <DropTarget setId={null} name={sentence("gather/setItsOwn")}>
          <Section>
            <Soft>{sentence("gather/dropFrameHereBegin")}</Soft>
          </Section>
        </DropTarget>
      )}
    </>
  );
}

/** Where a frame can be dropped: on a set, or on none. */
function DropTarget({ setId, name, children }: { setId: string | null; name: string; children: ReactNode }) {
  const ref = useRef<HTMLDivElement>(null);
  const { dropProps, isDropTarget } = useDrop({
    ref,
    getDropOperation: (types) => (types.has(FRAME_TYPE) ? "move" : "cancel"),
    onDrop: async ({ items }) => {
      const frame = items.find((item): item is TextDropItem => item.kind === "text" && item.types.has(FRAME_TYPE));
      if (frame) moveFrame(await frame.getText(FRAME_TYPE), setId);
    },
  });
  return (
    <Target {...dropProps} ref={ref} role="group" aria-label={name} data-drop-target={isDropTarget || undefined}>
      {children}
    </Target>
  );
}

export function moveFrame(frameId: string, setId: string | null): void {
  const { records } = useSession.getState();
  const number = framesOf(records).findIndex((f) => f.id === frameId) + 1;
  edit(moveFrames([frameId], setId), { stage: "gather", label: message(setId ? "step.frameToSet" : "step.frameAlone", { number }) });
}

function SetBlock({ set, number, several, chosen, onChoose }: Props & { set: SetRecord; number: number; several: boolean }) {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const frames = framesOfSet(records, set.id);
  const working = set.id === workingSetIdOf(records);
  const [whole, setWhole] = useState(false);
  const listed =
    working || whole || frames.length <= FEW_FRAMES || frames.slice(FEW_FRAMES).some((f) => f.id === chosen.id) ? frames : frames.slice(0, FEW_FRAMES);
  const summary = summarizeSet(records, set.id);
  return (
    <>
      <Section>
        <Heading>
          {several ? `${number}. ` : ""}
          {setSentence(summary)}
        </Heading>
        {working ? (
          <>
            {set.reasons.map((r) => (
              <Soft key={r.code}>{sentence(r)}</Soft>
            ))}
            {set.by === "proposed" && set.reasons.length > 0 && <Soft>{sentence(message("gather/proposed", { value: doubt(set.confidence) }))}</Soft>}
            <Select
              label={sentence(message("gather/takenForPurpose", { purpose: SET_WORDS[set.setKind].purpose }))}
              items={KINDS}
              chosen={set.setKind}
              isDisabled={readOnly}
              onChoose={(kind: SetKind) =>
                edit(
                  setKindOf(set.id, kind),
                  { stage: "gather", label: message("step.setNamed", { kind: SET_WORDS[kind].name.toLowerCase() }) },
                  { measure: false },
                )
              }
            />
            <Oddities oddities={summary.oddities} onChoose={onChoose} />
          </>
        ) : (
          <RowOf>
            <Button
              isDisabled={readOnly}
              onPress={() => {
                edit(workOnSet(set.id), { stage: "gather", label: message("step.workingOn", { number }) }, { measure: false });
                onChoose(frames[0].id);
              }}
            >
              {sentence("gather/workOnSet")}
            </Button>
            <Button
              isDisabled={readOnly}
              onPress={() =>
                edit(
                  moveFrames(
                    frames.map((f) => f.id),
                    workingSetIdOf(records),
                  ),
                  { stage: "gather", label: message("step.setJoined", { number }) },
                )
              }
            >
              {sentence("gather/joinWithIt")}
            </Button>
          </RowOf>
        )}
      </Section>
      <FrameTable records={records} frames={listed} set={set} chosen={chosen} onChoose={onChoose} short={!working} />
      {listed.length < frames.length && (
        <Section>
          <Button onPress={() => setWhole(true)}>{sentence(message("gather/showMoreFrames", { count: frames.length - listed.length }))}</Button>
        </Section>
      )}
    </>
  );
}

/** Frames of another set that are listed before all are asked for. */
const FEW_FRAMES = 12;

/** Oddities shown before the rest is asked for. */
const FEW = 4;

/** What is odd about a set; of many frames the first few, so that the frames stay in sight. */
function Oddities({ oddities, onChoose }: { oddities: Oddity[]; onChoose: (id: string) => void }) {
  const [all, setAll] = useState(false);
  const shown = all || oddities.length <= FEW + 1 ? oddities : oddities.slice(0, FEW);
  return (
    <>
      {shown.map((o) => (
        <Card key={sentence(o.told)} $open>
          {sentence(o.told)} {o.frameIds.length === 1 && <TextButton onPress={() => onChoose(o.frameIds[0])}>{sentence("gather/lookAtIt")}</TextButton>}
        </Card>
      ))}
      {shown.length < oddities.length && (
        <RowOf>
          <Button onPress={() => setAll(true)}>{sentence(message("common/showMoreCount", { count: oddities.length - shown.length }))}</Button>
        </RowOf>
      )}
    </>
  );
}

const HEADS = [
  sentence("gather/no"),
  sentence("gather/shot"),
  <TwoLines key="metered" words={[sentence("gather/metered"), "measured"]} />,
  <TwoLines key="clipped" words={[sentence("gather/clipped"), sentence("gather/topBottom")]} />,
  sentence("gather/noiseSigma"),
  sentence("common/edges"),
];

/** The judgement in words: a figure would claim to have been measured. */
const doubt = (confidence: number) =>
  confidence >= 0.9 ? sentence("gather/thereLittleDoubt") : confidence >= 0.7 ? sentence("gather/thisIsLikely") : sentence("gather/thisIsUncertain");

function FrameTable({ records, frames, set, chosen, onChoose, short }: Props & { records: Records; frames: FrameRecord[]; set: SetRecord; short: boolean }) {
  const measured = exposuresOf(records)?.measuredEv;
  const numberOf = new Map(framesOf(records).map((f, i) => [f.id, i + 1]));
  const middle = registrationOf(records, set.id)?.referenceId ?? frames[Math.floor(frames.length / 2)].id;
  const base = frames.find((f) => f.id === middle) ?? frames[0];
  const { dragAndDropHooks } = useDragAndDrop({ getItems: ([id]) => [{ [FRAME_TYPE]: String(id) }] });
  return (
    <Ledger
      label={short ? sentence("gather/framesAnotherSet") : sentence("common/frames")}
      heads={short ? [sentence("gather/no"), sentence("gather/shot"), sentence("common/file")] : HEADS}
      headless={short}
      rows={frames.map((f) => ({ id: f.id }))}
      named={[0, 1]}
      chosen={frames.includes(chosen) ? chosen.id : null}
      onChoose={onChoose}
      dragAndDropHooks={dragAndDropHooks}
    >
      {useInTurn(frames).map((f) => (
        <FrameRow
          key={f.id}
          frame={f}
          number={numberOf.get(f.id) ?? 0}
          measuredEv={measured && measured[f.id] !== undefined && measured[base.id] !== undefined ? measured[f.id] - measured[base.id] : null}
          meteredEv={f.meteredEv !== null && base.meteredEv !== null ? f.meteredEv - base.meteredEv : null}
          short={short}
        />
      ))}
    </Ledger>
  );
}

interface FrameRowProps {
  frame: FrameRecord;
  number: number;
  /** against the middle frame of the set; null where it is not known */
  measuredEv: number | null;
  meteredEv: number | null;
  short: boolean;
}

/** One frame with what was measured of it; of hundreds, those that are as they were are not made anew. */
const FrameRow = memo(function FrameRow({ frame: f, number, measuredEv, meteredEv, short }: FrameRowProps) {
  return (
    <LedgerRow id={f.id} off={f.excluded}>
      <LedgerCell>
        <Figure value={String(number)} />
      </LedgerCell>
      <LedgerCell>
        <Figure
          value={f.exposureTimeS ? shutter(f.exposureTimeS) : sentence("gather/noShutter")}
          word={f.aperture && f.iso ? `f/${plain(f.aperture, f.aperture % 1 ? 1 : 0)} ISO\u00a0${f.iso}` : sentence("gather/noMetadata")}
          breaks
        />
      </LedgerCell>
      {short ? (
        <LedgerCell>{f.fileName}</LedgerCell>
      ) : (
        <>
          <LedgerCell>
            <Figure
              value={meteredEv === null ? sentence("common/none") : signed(meteredEv, 1)}
              word={measuredEv === null ? sentence("gather/notYet") : signed(measuredEv, 2)}
            />
          </LedgerCell>
          <LedgerCell>
            <Figure value={percent(Math.max(...f.measures.clippedHigh))} word={percent(Math.max(...f.measures.clippedLow))} />
          </LedgerCell>
          <LedgerCell>
            <Figure value={plain(f.measures.noiseSigma, 2)} word={sentence("gather/of255")} />
          </LedgerCell>
          <LedgerCell>
            <Figure value={f.measures.edgeWidthPx ? plain(f.measures.edgeWidthPx, 1) : sentence("common/none")} word="px" />
          </LedgerCell>
        </>
      )}
    </LedgerRow>
  );
});
