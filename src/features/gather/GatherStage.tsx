"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect, useState } from "react";
import { focusLeaders } from "../../core/measure/sets/verifySet";
import { gatheredFrame } from "../../document/sets";
import { setExcluded } from "../../document/edits";
import { removeFrame } from "../../document/removal";
import type { FrameRecord } from "../../document/records/types";
import { addPin } from "../../document/edits";
import { cardsOf, framesOf, framesOfSet, registrationOf, workingSetIdOf } from "../../document/selectors";
import { groupFrames } from "../../session/actions";
import { gatherDemo, listDemoJobs, type DemoJob } from "../../session/demos";
import { gather } from "../../session/gathering";
import { canLinkFolders, gatherFolder } from "../../session/folders";
import { edit, setStage } from "../../session/openJob";
import { useSession, usePartsOf } from "../../session/store";
import { Button, Choice, PrimaryButton } from "../../ui/components/Button";
import { Select } from "../../ui/components/Select";
import { FilePicker } from "../../ui/components/FilePicker";
import { Card, Facts, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { megapixels, percent, plain, withUnit } from "../../ui/format";
import { PictureView } from "../../view/PictureView";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";

import { EvenSection } from "./EvenSection";
import { FolderSection } from "./FolderSection";
import { DevelopSection } from "./DevelopSection";
import { ParitySection } from "./ParitySection";
import { RankSection } from "./RankSection";
import { ReadoutSection } from "./ReadoutSection";
import { SetLedger } from "./SetLedger";
import { Cards, FocusMap, PlaceFrame, SharpnessMap } from "./overlays";
import { useRanking } from "./useRanking";

const toFiles = (files: File[]) => files.map((file) => ({ name: file.name, file }));

/** Sets of more frames are chosen from in the ledger, and ranked. */
const CHOSEN_IN_BAR = 6;

/** Frames with what was measured of them, and the name of the set. */
export function GatherStage() {
  const { records, isBusy, readOnly } = usePartsOf("records", "isBusy", "readOnly");
  const frames = framesOf(records);
  const [chosenId, setChosen] = useState<string | null>(null);
  const [placing, setPlacing] = useState(false);
  const [map, setMap] = useState<"none" | "sharpness" | "focus">("none");
  const [besideId, setBeside] = useState<string | null>(null);
  const worked = framesOfSet(records, workingSetIdOf(records));
  const ranking = useRanking();
  const chosen = frames.find((f) => f.id === chosenId) ?? worked[Math.floor(worked.length / 2)] ?? frames[0];
  const beside = frames.find((f) => f.id === besideId && f.id !== chosen?.id) ?? null;
  if (frames.length === 0) return <EmptyGather />;
  const numberOf = (f: FrameRecord) => frames.indexOf(f) + 1;
  const members = framesOfSet(records, chosen.setId).filter((f) => !f.excluded);
  const overlayFor = (frame: FrameRecord, at: (x: number, y: number) => [number, number]) => (
    <>
      {map === "sharpness" && <SharpnessMap at={at} frame={frame} />}
      {map === "focus" && <FocusMap at={at} frame={frame} leaders={focusLeaders(members.map((f) => gatheredFrame(records, f)))} />}
      <Cards at={at} places={cardsOf(records, frame.id)} />
      {ranking.placeIn(frame) && <PlaceFrame at={at} place={ranking.placeIn(frame)!} />}
    </>
  );
  return (
    <StageLayout
      ledger={
        <>
          <SetLedger chosen={chosen} onChoose={setChosen} />
          <FolderSection />
          <Section>
            <Soft>{sentence("gather/exposuresEvAgainstMiddle")}</Soft>
            <RowOf>
              <FilePicker multiple onFiles={(files) => void gather(toFiles(files))}>
                {sentence("gather/addFrames")}
              </FilePicker>
              <FolderButton />
              <Button isDisabled={isBusy || readOnly} onPress={() => void groupFrames()}>
                {sentence("gather/groupAgain")}
              </Button>
              {!registrationOf(records) && <PrimaryButton onPress={() => setStage("register")}>{sentence("common/goToRegister")}</PrimaryButton>}
            </RowOf>
          </Section>
        </>
      }
      bench={
        ranking.on ? (
          <RankSection ranking={ranking} chosen={chosen} onChoose={setChosen} />
        ) : (
          <>
            <ParitySection onChoose={setChosen} />
            <FrameBench frame={chosen} number={frames.indexOf(chosen) + 1} />
            <ReadoutSection key={chosen.id} frame={chosen} number={numberOf(chosen)} placing={placing} onPlace={setPlacing} />
            {beside && <ReadoutSection key={beside.id} frame={beside} number={numberOf(beside)} against={chosen} />}
            <EvenSection frame={chosen} numberOf={numberOf} />
            <DevelopSection frame={chosen} number={frames.indexOf(chosen) + 1} />
          </>
        )
      }
      bar={
        <ViewChoices
          views={
            worked.length > CHOSEN_IN_BAR
              ? []
              : worked.map((f) => ({
                  id: f.id,
                  label: worked.length > 2 ? String(numberOf(f)) : sentence(message("common/frameNumber", { number: numberOf(f) })),
                }))
          }
          chosen={chosen.id}
          onChoose={setChosen}
        >
          {frames.length > 1 && (
            <Beside frames={worked.includes(chosen) ? worked : members} chosen={chosen} beside={beside} numberOf={numberOf} onChoose={setBeside} />
          )}
          {framesOfSet(records, chosen.setId).length > CHOSEN_IN_BAR && (
            <Choice isSelected={ranking.on} onChange={ranking.turn} style={{ whiteSpace: "nowrap" }}>
              {sentence("gather/rankByPlace")}
            </Choice>
          )}
          <Choice isSelected={map === "sharpness"} onChange={(on) => setMap(on ? "sharpness" : "none")}>
            {sentence("gather/sharpness")}
          </Choice>
          {members.length > 1 && (
            <Choice isSelected={map === "focus"} onChange={(on) => setMap(on ? "focus" : "none")}>
              {sentence("gather/sharpest")}
            </Choice>
          )}
        </ViewChoices>
      }
    >
      <PictureView
        name={sentence(message("gather/frameFileName", { fileName: chosen.fileName }))}
        panes={[chosen, ...(beside ? [beside] : [])].map((f) => ({ view: { kind: "source", frameId: f.id }, records, label: f.fileName }))}
        arrangement={beside ? "side" : "single"}
        size={chosen}
        tool={
          ranking.on && !beside
            ? ranking.toolOn(chosen)
            : placing && !beside
              ? { cursor: "crosshair", down: (p) => (placeCard(chosen.id, p.x, p.y), setPlacing(false)) }
              : null
        }
        overlay={({ toScreen: at, pane }) => overlayFor(pane === 1 && beside ? beside : chosen, at)}
      />
    </StageLayout>
  );
}

interface BesideProps {
  frames: FrameRecord[];
  chosen: FrameRecord;
  beside: FrameRecord | null;
  numberOf: (f: FrameRecord) => number;
  onChoose: (id: string | null) => void;
}

/** The frame shown beside the chosen one, picture and readouts. */
function Beside({ frames, chosen, beside, numberOf, onChoose }: BesideProps) {
  const others = frames.filter((f) => f.id !== chosen.id);
  return (
    <Select
      label={sentence("gather/beside")}
      inline
      items={[
        { id: "none", label: sentence("common/nothing") },
        ...others.map((f) => ({ id: f.id, label: sentence(message("common/frameWithin", { number: numberOf(f) })) })),
      ]}
      chosen={beside?.id ?? "none"}
      onChoose={(id) => onChoose(id === "none" ? null : id)}
    />
  );
}

const CARD_RADIUS = 8;

function placeCard(frameId: string, x: number, y: number): void {
  edit(addPin({ purpose: "card", frameId, x: Math.round(x), y: Math.round(y), radius: CARD_RADIUS, target: null }), {
    stage: "gather",
    label: "step.cardMarked",
  });
}

function FrameBench({ frame, number }: { frame: FrameRecord; number: number }) {
  const readOnly = useSession((s) => s.readOnly);
  const m = frame.measures;
  const channels = (v: readonly number[]) => v.map((s) => percent(s)).join("  ");
  return (
    <>
      <Section>
        <Heading>{sentence(message("common/frameNumber", { number }))}</Heading>
        <Soft>{frame.fileName}</Soft>
        <Facts style={{ marginTop: 8 }}>
          <dt>{sentence("common/size")}</dt>
          <dd>
            {frame.width}×{frame.height}, {megapixels(frame.width, frame.height)}
          </dd>
          <dt>{sentence("common/file")}</dt>
          <dd>{sentence(message("gather/bitFormat", { format: frame.format, bits: frame.bits, colorName: frame.colorName }))}</dd>
          <dt>{sentence("gather/camera")}</dt>
          <dd>{frame.model ?? sentence("gather/notStated")}</dd>
          <dt>{sentence("common/focalLength")}</dt>
          <dd>{frame.focalLengthMm ? withUnit(plain(frame.focalLengthMm, 0), "mm") : sentence("gather/notStated")}</dd>
          <dt>{sentence("gather/taken")}</dt>
          <dd>{frame.takenAt ?? sentence("gather/notStated")}</dd>
          <dt>{sentence("gather/clippedHighlights")}</dt>
          <dd>{channels(m.clippedHigh)}</dd>
          <dt>{sentence("gather/clippedShadows")}</dt>
          <dd>{channels(m.clippedLow)}</dd>
          <dt>{sentence("gather/meanLight")}</dt>
          <dd>{percent(m.brightness)}</dd>
        </Facts>
        {frame.notes.map((n) => (
          <Card key={n.code}>{sentence(n)}</Card>
        ))}
        <RowOf>
          <Button
            isDisabled={readOnly}
            onPress={() =>
              edit(setExcluded(frame.id, !frame.excluded), {
                stage: "gather",
                label: message(frame.excluded ? "step.frameTakesPart" : "step.frameLeftOut", { number }),
              })
            }
          >
            {frame.excluded ? sentence("gather/takePartAgain") : sentence("gather/leaveOut")}
          </Button>
          <Button isDisabled={readOnly} onPress={() => edit(removeFrame(frame.id), { stage: "gather", label: message("step.frameRemoved", { number }) })}>
            {sentence("common/remove")}
          </Button>
        </RowOf>
      </Section>
    </>
  );
}

/** Only where the browser can do it; the pictures stay where they are. */
function FolderButton() {
  const busy = useSession((s) => s.busy !== null || s.readOnly);
  const [possible, setPossible] = useState(false);
  useEffect(() => setPossible(canLinkFolders()), []);
  return possible ? (
    <Button isDisabled={busy} onPress={() => void gatherFolder()}>
      {sentence("gather/linkAFolder")}
    </Button>
  ) : null;
}

function EmptyGather() {
  const [demos, setDemos] = useState<DemoJob[]>([]);
  useEffect(() => {
    void listDemoJobs().then(setDemos, () => undefined);
  }, []);
  return (
    <StageLayout
      ledger={
        <Section>
          <Heading>{sentence("common/noFramesYet")}</Heading>
          <Soft>{sentence("gather/eachFrameWillListed")}</Soft>
        </Section>
      }
      bench={
        <Section>
          <Heading>{sentence("gather/whatMarshReads")}</Heading>
          <Soft>{sentence("gather/jpegPngWebpAvif")}</Soft>
        </Section>
      }
    >
      <EmptyPicture
        title={sentence("gather/bringFramesOnePicture")}
        action={
          <RowOf>
            <FilePicker multiple primary onFiles={(files) => void gather(toFiles(files))}>
              {sentence("gather/chooseFiles")}
            </FilePicker>
            <FolderButton />
            {demos.map((d) => (
              <Button key={d.id} onPress={() => void gatherDemo(d)}>
                {sentence(message("gather/tryName", { name: d.name }))}
              </Button>
            ))}
          </RowOf>
        }
      >
        {sentence("gather/dropThemAnywhereWindow")}
      </EmptyPicture>
    </StageLayout>
  );
}
