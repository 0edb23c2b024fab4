"use client";
import { sentence } from "../../messages/sentence";
import { message, type Message } from "../../messages/message";
import { useEffect, useRef, useState } from "react";
import { addRecord, newId, removeRecord } from "../../document/edits";
import { pathTo } from "../../document/history";
import { acceptancesOf, documentSize, frameNumber, mergedFramesOf, mergeOf, targetOf } from "../../document/selectors";
import { isHarmless, openFindingsOf, type Finding } from "../../document/finding";
import { FINDING_WORDS } from "../../kinds/findings/words";
import { acceptedName, causeName, findingSentence, findingTitle, remedyName } from "../../words/findings";
import { proof, remedy } from "../../session/actions";
import { edit, setStage } from "../../session/openJob";
import { useSession, usePartsOf } from "../../session/store";
import { Button, Choice, PrimaryButton, TextButton } from "../../ui/components/Button";
import { Choices } from "../../ui/components/Choices";
import { Card, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { comparedPane } from "../../view/comparedPane";
import { PrintSection, type Marks } from "./PrintSection";
import { PictureView } from "../../view/PictureView";
import type { Pane } from "../../view/usePanes";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ReadoutLine } from "../../view/ReadoutLine";
import { ViewChoices } from "../../view/ViewChoices";
import { useKeyName } from "../../view/keys";
import { useHeldKey } from "../../view/useHeldKey";
import { jumpTo } from "../../view/viewState";
import { outputGeometry, outputToReference } from "../../document/outputGeometry";

type Shown = "finished" | "printed" | "split" | "side";
const SHOWN_FIRST = 7;

/** One measured inspection with places and remedies, and comparison against any earlier state. */
export function ProofStage() {
  const { records, history, findings, inspected, isBusy } = usePartsOf("records", "history", "findings", "inspected", "isBusy");
  const merge = mergeOf(records);
  const [shown, setShown] = useState<Shown>("finished");
  const [against, setAgainst] = useState("merge");
  const [flipped, setFlipped] = useState(false);
  const [marks, setMarks] = useState<Marks>("none");
  useEffect(() => {
    // one that was stopped or failed is not begun again by itself
    if (merge && !findings && !isBusy && inspected !== records) void proof();
  }, [merge, findings, isBusy, inspected, records]);
  useHeldKey("compare", setFlipped);
  const size = documentSize(records);
  if (!merge || !size) {
    return (
      <StageLayout
        ledger={
          <Section>
            <Heading>{sentence("proof/noFindings")}</Heading>
          </Section>
        }
        bench={
          <Section>
            <Soft>{sentence("proof/inspectionNeedsPicture")}</Soft>
          </Section>
        }
      >
        <EmptyPicture
          title={sentence("proof/thereNoPictureInspect")}
          action={<PrimaryButton onPress={() => setStage("merge")}>{sentence("common/goToMerge")}</PrimaryButton>}
        >
          {sentence("proof/clippedBlockedAreasEmpty")}
        </EmptyPicture>
      </StageLayout>
    );
  }
  const geometry = outputGeometry(records);
  const now: Pane = { view: { kind: "output" }, records, label: sentence("common/now") };
  const other = comparedPane(against, records, history);
  const isPrinted = shown === "printed" && targetOf(records) !== undefined;
  const printed: Pane = { view: { kind: "printed", marks }, records, label: sentence("proof/asPrinted") };
  const isSingle = shown === "finished" || shown === "printed";
  const panes = isSingle ? [isPrinted !== flipped ? (isPrinted ? printed : other) : now] : [other, now];
  return (
    <StageLayout
      ledger={<FindingLedger />}
      bench={
        <>
          <PrintSection
            marks={marks}
            onMarks={(what) => {
              setMarks(what);
              setShown("printed");
            }}
          />
          <CompareBench against={against} setAgainst={setAgainst} setFlipped={setFlipped} flipped={flipped} />
        </>
      }
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "finished", label: sentence("common/finished") },
            ...(targetOf(records) ? [{ id: "printed" as const, label: sentence("proof/asPrinted") }] : []),
            { id: "split", label: sentence("common/split") },
            { id: "side", label: sentence("proof/sideBySide") },
          ]}
          chosen={shown === "printed" && !isPrinted ? "finished" : shown}
          onChoose={setShown}
        >
          {flipped && <Soft>{sentence(message("proof/showingLabel", { label: isPrinted ? now.label : other.label }))}</Soft>}
        </ViewChoices>
      }
      readout={<ReadoutLine records={records} toReference={outputToReference(geometry, size)} />}
    >
      <PictureView
        name={sentence("proof/pictureUnderInspection")}
        panes={panes}
        arrangement={shown === "split" || shown === "side" ? shown : "single"}
        size={geometry.crop}
        overlay={({ toScreen }) =>
          openFindingsOf(records, findings)
            .filter((f) => f.place)
            .slice(0, SHOWN_FIRST)
            .map((f) => {
              const p = f.place!;
              const [x0, y0] = toScreen(p.x, p.y);
              const [x1, y1] = toScreen(p.x + p.width, p.y + p.height);
              return (
                <g key={f.id} fill="none">
                  <rect x={x0 - 1} y={y0 - 1} width={Math.max(6, x1 - x0) + 2} height={Math.max(6, y1 - y0) + 2} stroke="#000" />
                  <rect x={x0} y={y0} width={Math.max(6, x1 - x0)} height={Math.max(6, y1 - y0)} stroke="#fff" />
                </g>
              );
            })
        }
      />
    </StageLayout>
  );
}

function FindingLedger() {
  const { records, findings, isBusy, busyStage, readOnly } = usePartsOf("records", "findings", "isBusy", "busyStage", "readOnly");
  const open = openFindingsOf(records, findings);
  const lookedAt = useSession((s) => s.findingId);
  // one that an address leads to is shown, however many are more visible
  const [all, setAll] = useState(() => open.findIndex((f) => f.id === lookedAt) >= SHOWN_FIRST);
  const harmless = (findings ?? []).filter(isHarmless);
  const accepted = acceptancesOf(records);
  if (!findings) {
    return (
      <Section>
        <Heading>{busyStage === "proof" ? sentence("proof/inspecting") : sentence("proof/notInspectedYet")}</Heading>
        <Soft>{sentence("proof/pictureChangedSinceLast")}</Soft>
        <RowOf>
          <PrimaryButton isDisabled={isBusy} onPress={() => void proof()}>
            {sentence("proof/inspect")}
          </PrimaryButton>
        </RowOf>
      </Section>
    );
  }
  return (
    <>
      <Section>
        <Heading>{open.length ? sentence(message("common/openFindingsCount", { count: open.length })) : sentence("proof/nothingOpen")}</Heading>
        <Soft>{sentence("proof/mostVisibleFirstTaste")}</Soft>
        {open.slice(0, all ? undefined : SHOWN_FIRST).map((f) => (
          <FindingCard key={f.id} finding={f} readOnly={readOnly} />
        ))}
        {open.length > SHOWN_FIRST && (
          <TextButton onPress={() => setAll(!all)}>
            {all ? sentence("proof/showFewer") : sentence(message("common/showMoreCount", { count: open.length - SHOWN_FIRST }))}
          </TextButton>
        )}
      </Section>
      {harmless.length > 0 && (
        <Section>
          <Heading>{sentence("proof/lightSourcesMayClip")}</Heading>
          {harmless.map((f) => (
            <Card key={f.id}>
              <b>{findingTitle(f)}</b>
              <p>{findingSentence(f)}</p>
              {f.place && <TextButton onPress={() => jumpTo(f.place!)}>{sentence("common/showOneToOne")}</TextButton>}
            </Card>
          ))}
        </Section>
      )}
      {accepted.length > 0 && (
        <Section>
          <Heading>{sentence("proof/accepted")}</Heading>
          {accepted.map((a) => (
            <Card key={a.id}>
              {acceptedName(a.findingId, findings)}
              {a.reason && `: ${a.reason}`}{" "}
              <TextButton isDisabled={readOnly} onPress={() => edit(removeRecord(a.id), { stage: "proof", label: "step.findingOpen" }, { measure: false })}>
                {sentence("common/openAgain")}
              </TextButton>
            </Card>
          ))}
        </Section>
      )}
    </>
  );
}

/** Looks at a finding: its place is shown, and it has an address. */
function lookAt({ id, place }: Finding): void {
  useSession.setState({ findingId: id });
  if (place) jumpTo(place);
}

function FindingCard({ finding, readOnly }: { finding: Finding; readOnly: boolean }) {
  const isLookedAt = useSession((s) => s.findingId === finding.id);
  const card = useRef<HTMLDivElement>(null);
  const isSought = useSession((s) => s.isFindingSought && s.findingId === finding.id);
  useEffect(() => {
    if (!isSought) return;
    useSession.setState({ isFindingSought: false });
    card.current?.scrollIntoView({ block: "nearest" });
    if (finding.place) jumpTo(finding.place);
  }, [isSought, finding.place]);
  const [reason, setReason] = useState("");
  const [asking, setAsking] = useState(false);
  const accept = (findingId: string, label: Message) =>
    edit(addRecord({ kind: "acceptance", id: newId("acceptance"), findingId, reason }), { stage: "proof", label }, { measure: false });
  const what = finding.remedy;
  return (
    <Card ref={card} $open aria-current={isLookedAt || undefined}>
      <b>{findingTitle(finding)}</b>
      <p>{findingSentence(finding)}</p>
      <Soft>{sentence(message("proof/from", { value: causeName(finding.cause) }))}</Soft>
      <RowOf style={{ gap: 12, marginTop: 4 }}>
        {finding.place && <TextButton onPress={() => lookAt(finding)}>{sentence("common/showOneToOne")}</TextButton>}
        {what && what.kind !== "show" && (
          <TextButton isDisabled={readOnly} onPress={() => remedy(finding, what)}>
            {remedyName(what)}
          </TextButton>
        )}
        <TextButton isDisabled={readOnly} onPress={() => setAsking(!asking)}>
          {sentence("proof/accept")}
        </TextButton>
      </RowOf>
      {asking && (
        <RowOf>
          <input
            aria-label={sentence("proof/reason")}
            placeholder={sentence("proof/reasonIfYouLike")}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            style={{ width: "100%", padding: "3px 6px" }}
          />
          <Button onPress={() => accept(finding.id, message("step.accepted", { finding: findingTitle(finding).toLowerCase() }))}>
            {sentence("proof/thisOne")}
          </Button>
          <Button onPress={() => accept(`kind:${finding.kind}`, message("step.acceptedAll", { kind: FINDING_WORDS[finding.kind].name.toLowerCase() }))}>
            {sentence("proof/allKind")}
          </Button>
        </RowOf>
      )}
    </Card>
  );
}

function CompareBench(props: { against: string; setAgainst: (id: string) => void; flipped: boolean; setFlipped: (on: boolean) => void }) {
  const { records, history, isBusy } = usePartsOf("records", "history", "isBusy");
  const steps = pathTo(history, history.head).filter((s) => s.id !== history.head && ["merge", "compose", "finish", "proof"].includes(s.stage));
  const ofStep = props.against.startsWith("step-");
  const key = useKeyName("compare");
  return (
    <>
      <Section>
        <Heading>{sentence("proof/compareAgainst")}</Heading>
        <Choices
          label={sentence("proof/compareAgainst")}
          items={[
            { id: "merge", label: sentence("common/theMerge") },
            ...(targetOf(records) ? [{ id: "printed", label: sentence("proof/asPrinted") }] : []),
            ...mergedFramesOf(records).map(({ frame }) => ({
              id: frame.id,
              label: sentence(message("common/frameNumber", { number: frameNumber(records, frame.id) })),
            })),
          ]}
          chosen={ofStep ? null : props.against}
          onChoose={props.setAgainst}
        />
        <Select
          label={sentence("proof/stateLogbook")}
          items={[{ id: "", label: sentence("common/none") }, ...steps.map((s, i) => ({ id: s.id, label: `${i + 1}. ${sentence(s.label)}` }))]}
          chosen={ofStep ? props.against : ""}
          onChoose={(id) => id && props.setAgainst(id)}
        />
        <RowOf>
          <Choice isSelected={props.flipped} onChange={props.setFlipped}>
            {key === null ? sentence("proof/flip") : sentence(message("proof/flipByKey", { key }))}
          </Choice>
        </RowOf>
      </Section>
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <Button isDisabled={isBusy} onPress={() => void proof()}>
            {sentence("proof/inspectAgain")}
          </Button>
          <PrimaryButton onPress={() => setStage("handover")}>{sentence("proof/goHandOver")}</PrimaryButton>
        </RowOf>
      </Section>
    </>
  );
}
