"use client";
import { useEffect, useState } from "react";
import { sentence } from "../../../messages/sentence";
import { message, type Message } from "../../../messages/message";
import type { MatteFigures, MattePart } from "../../../core/matte/judgeMatte";
import { project } from "../../../core/geometry/matrix3";
import { Refusal } from "../../../core/refusal";
import type { LayerRecord } from "../../../document/records/layerTypes";
import { documentSize, frameNumber, framesOf, mergedFramesOf } from "../../../document/selectors";
import { movedMatrix } from "../../../document/outputGeometry";
import { ask } from "../../../session/openJob";
import { addMarks, beginCut, cutByPlate, endCut, setCut, tellCut } from "../../../session/cutting";
import { report, useSession, usePartsOf } from "../../../session/store";
import { toldOf } from "../../../session/toldOf";
import { Button, TextButton } from "../../../ui/components/Button";
import { Choices } from "../../../ui/components/Choices";
import { Card, Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { Select } from "../../../ui/components/Select";
import { percent, plain, withUnit } from "../../../ui/format";
import { BrushSize } from "../../../view/BrushSize";
import { useCompose } from "../../../view/composeState";
import { jumpTo } from "../../../view/viewState";
import { isCancelled } from "../../../workers/client/EngineClient";
import type { ControlsProps } from "../controlling";
import { CUT_BY, isTold, MARKS, UNMOVED, type Cut, type CutBy, type FrameContent } from "./record";

const BY: Record<CutBy, string> = { box: sentence("cutting/box"), plate: sentence("cutting/plate"), backdrop: sentence("cutting/backdrop") };
const MARK_WORDS = { keep: sentence("cutting/keep"), leave: sentence("cutting/leave"), open: sentence("cutting/open") };
const SAYS = { keep: sentence("cutting/keeps"), leave: sentence("cutting/leaves"), open: sentence("cutting/opens") };

type Props = ControlsProps<FrameContent>;

/** What of a frame is cut out: by what it is told, strokes, and what came of it. */
export function CutControls({ layer, content, isDisabled }: Props) {
  const { cut } = content;
  if (!cut)
    return (
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <Button isDisabled={isDisabled} onPress={() => beginCut(layer)}>
            {sentence("cutting/cutSomethingOut")}
          </Button>
        </RowOf>
        <Soft>{sentence("cutting/onlyAThing")}</Soft>
      </Section>
    );
  return (
    <>
      <Section>
        <Heading>{sentence("cutting/cutOut")}</Heading>
        <Telling layer={layer} content={content} isDisabled={isDisabled} cut={cut} />
        {isTold(cut) && <Strokes layer={layer} cut={cut} isDisabled={isDisabled} />}
        <RowOf>
          <TextButton isDisabled={isDisabled} onPress={() => endCut(layer)}>
            {sentence("cutting/showAllOfFrame")}
          </TextButton>
        </RowOf>
      </Section>
      {isTold(cut) && <Figures layer={layer} content={content} isDisabled={isDisabled} />}
    </>
  );
}

function Telling({ layer, content, cut, isDisabled }: Props & { cut: Cut }) {
  const { records, isBusy } = usePartsOf("records", "isBusy");
  const { name } = layer;
  // a plate is asked for before anything is said of it
  const [asking, setAsking] = useState(false);
  const others = framesOf(records).filter((f) => f.id !== content.frameId);
  const by: CutBy = asking ? "plate" : cut.by;
  const choose = (next: CutBy) => {
    setAsking(next === "plate" && cut.plateId === null);
    if (next === "box") void tellCut(layer, { by: "box" }, message("step.cutByBox", { name }));
    if (next === "backdrop") void tellCut(layer, { by: "backdrop" }, message("step.cutByBackdrop", { name }));
    if (next === "plate" && cut.plateId !== null)
      setCut(layer, { by: "plate" }, message("step.cutByPlate", { name, number: frameNumber(records, cut.plateId) }));
  };
  return (
    <>
      <Choices label={sentence("cutting/toldBy")} items={CUT_BY.map((id) => ({ id, label: BY[id] }))} chosen={by} isDisabled={isDisabled} onChoose={choose} />
      {by === "box" && !cut.box && <Card>{sentence("cutting/dragBoxAround")}</Card>}
      {by === "box" && cut.box && (
        <RowOf>
          <Soft as="span">{sentence(message("cutting/boxIs", { width: Math.round(cut.box.width), height: Math.round(cut.box.height) }))}</Soft>
          <TextButton isDisabled={isDisabled} onPress={() => setCut(layer, { box: null }, message("step.cutBoxGone", { name }))}>
            {sentence("cutting/drawAnotherBox")}
          </TextButton>
        </RowOf>
      )}
      {by === "plate" && others.length === 0 && <Card $open>{sentence("cutting/noOtherFrame")}</Card>}
      {by === "plate" && others.length > 0 && (
        <Select<string>
          label={sentence("cutting/plateShows")}
          items={[
            ...(cut.plateId === null ? [{ id: "", label: sentence("cutting/choosePlate") }] : []),
            ...others.map((f) => ({ id: f.id, label: sentence(message("common/frameNumber", { number: frameNumber(records, f.id) })) })),
          ]}
          chosen={cut.plateId ?? ""}
          isDisabled={isDisabled || isBusy}
          onChoose={(id) => {
            setAsking(false);
            if (id) void cutByPlate(layer, id);
          }}
        />
      )}
      {by === "backdrop" && <Soft>{sentence("cutting/backdropIs")}</Soft>}
    </>
  );
}

function Strokes({ layer, cut, isDisabled }: { layer: LayerRecord; cut: Cut; isDisabled: boolean }) {
  const { marking, working } = useCompose();
  return (
    <>
      <Choices
        label={sentence("cutting/whatStrokeSays")}
        items={[...MARKS.map((id) => ({ id, label: MARK_WORDS[id] })), { id: "move" as const, label: sentence("common/move") }]}
        chosen={working ? marking : "move"}
        isDisabled={isDisabled}
        onChoose={(what) => useCompose.setState(what === "move" ? { working: false } : { working: true, marking: what, pulling: false })}
      />
      <Soft>{SAYS[marking]}</Soft>
      <BrushSize name={sentence("common/size")} />
      <RowOf>
        <Soft as="span">{sentence(message("cutting/strokes", { count: cut.marks.length }))}</Soft>
        {cut.marks.length > 0 && (
          <TextButton
            isDisabled={isDisabled}
            onPress={() => setCut(layer, { marks: cut.marks.slice(0, -1) }, message("step.cutStrokeBack", { name: layer.name }))}
          >
            {sentence("cutting/takeLastBack")}
          </TextButton>
        )}
      </RowOf>
    </>
  );
}

interface Looked {
  content: FrameContent;
  figures: MatteFigures | null;
  refused: Message | null;
}

/** What a cut-out is like, looked at a moment after the last change. */
function useFigures(layer: LayerRecord, content: FrameContent): Looked | null {
  const records = useSession((s) => s.records);
  const [looked, setLooked] = useState<Looked | null>(null);
  useEffect(() => {
    const controller = new AbortController();
    const timer = setTimeout(() => {
      ask("cutFigures", { records, layerId: layer.id }, { signal: controller.signal })
        .then((figures) => setLooked({ content, figures, refused: null }))
        .catch((error: unknown) => {
          if (isCancelled(error)) return;
          if (error instanceof Refusal || (error as { name?: string }).name === "Refusal") setLooked({ content, figures: null, refused: toldOf(error).told });
          else report(error);
        });
    }, 500);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [records, layer.id, content]);
  return looked;
}

/** So many places are listed. */
const SHOWN = 6;

function Figures({ layer, content, isDisabled }: Props) {
  const looked = useFigures(layer, content);
  if (!looked) return <Section>{<Soft role="status">{sentence("cutting/looking")}</Soft>}</Section>;
  const { figures, refused } = looked;
  const isDated = looked.content !== content;
  if (refused)
    return (
      <Section>
        <Card $open role="status">
          {sentence(refused)}
        </Card>
      </Section>
    );
  if (!figures) return null;
  const { name } = layer;
  const mark = (what: "keep" | "leave", parts: MattePart[]) =>
    parts.map((p) => ({ what, diameterPx: Math.max(2, Math.round(Math.sqrt(p.area / Math.PI))), points: [p.x, p.y] }));
  return (
    <Section>
      <Heading>{sentence("cutting/whatItIsLike")}</Heading>
      <Facts aria-label={sentence("cutting/whatItIsLike")} aria-busy={isDated}>
        <dt>{sentence("cutting/share")}</dt>
        <dd>{percent(figures.share)}</dd>
        <dt>{sentence("cutting/bandWidth")}</dt>
        <dd>{withUnit(plain(figures.band.widthPx, 1), "px")}</dd>
        <dt>{sentence("cutting/spill")}</dt>
        <dd>{withUnit(plain(figures.spillDeltaE, 1), "ΔE")}</dd>
      </Facts>
      {figures.cutOff.length > 0 && (
        <Card>
          {sentence(message("cutting/cutOff", { count: figures.cutOff.length }))}
          <Places layer={layer} content={content} parts={figures.cutOff} unit="cutting/lengthAt" />
        </Card>
      )}
      {figures.holes.length > 0 && (
        <Card>
          {sentence(message("cutting/gapsShow", { count: figures.holes.length }))}
          <Places layer={layer} content={content} parts={figures.holes}>
            {(p) => (
              <TextButton
                isDisabled={isDisabled || isDated}
                aria-label={sentence(message("cutting/fillAt", { x: p.x, y: p.y }))}
                onPress={() => addMarks(layer, mark("keep", [p]), message("step.cutGapKept", { name }))}
              >
                {sentence("cutting/fill")}
              </TextButton>
            )}
          </Places>
        </Card>
      )}
      {figures.islands.length > 0 && (
        <Card>
          {sentence(message("cutting/partsApart", { count: figures.islands.length }))}{" "}
          {figures.islands.length > 1 && (
            <TextButton
              isDisabled={isDisabled || isDated}
              onPress={() => addMarks(layer, mark("leave", figures.islands), message("step.cutPartsLeft", { name, count: figures.islands.length }))}
            >
              {sentence("cutting/leaveAllOut")}
            </TextButton>
          )}
          <Places layer={layer} content={content} parts={figures.islands}>
            {(p) => (
              <TextButton
                isDisabled={isDisabled || isDated}
                aria-label={sentence(message("cutting/leaveOutAt", { x: p.x, y: p.y }))}
                onPress={() => addMarks(layer, mark("leave", [p]), message("step.cutPartsLeft", { name, count: 1 }))}
              >
                {sentence("cutting/leaveOut")}
              </TextButton>
            )}
          </Places>
        </Card>
      )}
    </Section>
  );
}

interface PlacesProps {
  layer: LayerRecord;
  content: FrameContent;
  parts: MattePart[];
  unit?: "cutting/placeOf" | "cutting/lengthAt";
  children?: (p: MattePart) => React.ReactNode;
}

function Places({ content, parts, unit = "cutting/placeOf", children }: PlacesProps) {
  const records = useSession((s) => s.records);
  const show = ({ x, y, area }: MattePart) => {
    const size = documentSize(records);
    const frame = records[content.frameId];
    if (!size || frame?.kind !== "frame") return;
    const isMerged = mergedFramesOf(records).some((m) => m.frame.id === content.frameId);
    const [u, v] = project(movedMatrix(content.moved ?? UNMOVED, size, isMerged ? size : frame), x, y);
    const r = Math.sqrt(area);
    jumpTo({ x: u - r, y: v - r, width: 2 * r, height: 2 * r });
  };
  return parts.slice(0, SHOWN).map((p) => (
    <RowOf key={`${p.x},${p.y}`} style={{ marginTop: 4 }}>
      <TextButton onPress={() => show(p)}>{sentence(message(unit, { x: p.x, y: p.y, area: p.area }))}</TextButton>
      {children?.(p)}
    </RowOf>
  ));
}
