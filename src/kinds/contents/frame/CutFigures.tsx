"use client";
import { useEffect, useState, type ReactNode } from "react";
import { sentence } from "../../../messages/sentence";
import { message, type Message } from "../../../messages/message";
import { edgeIs } from "../../../core/matte/judgeEdge";
import type { MatteFigures } from "../../../core/matte/judgeMatte";
import type { MattePart } from "../../../core/matte/trimap";
import { project } from "../../../core/geometry/matrix3";
import type { LayerRecord } from "../../../document/records/layerTypes";
import { movedMatrix, shownSize } from "../../../document/outputGeometry";
import { documentSize } from "../../../document/selectors";
import { addMarks } from "../../../session/cutting";
import { ask } from "../../../session/openJob";
import { report, useSession } from "../../../session/store";
import { toldOf } from "../../../session/toldOf";
import { TextButton } from "../../../ui/components/Button";
import { Card, Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { percent, plain, withUnit } from "../../../ui/format";
import { jumpTo } from "../../../view/viewState";
import { isCancelled } from "../../../workers/client/EngineClient";
import type { ControlsProps } from "../controlling";
import { UNMOVED, type FrameContent } from "./record";

type Props = ControlsProps<FrameContent>;

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
          if ((error as Error).name === "Refusal") setLooked({ content, figures: null, refused: toldOf(error).told });
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

/** What came of a cut: its share, its edge, what is left of the old background in it, and the places that are asked about. */
export function CutFigures({ layer, content, isDisabled }: Props) {
  const looked = useFigures(layer, content);
  if (!looked)
    return (
      <Section>
        <Soft role="status">{sentence("cutting/looking")}</Soft>
      </Section>
    );
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
  const how = figures.edge ? edgeIs(figures.edge) : "right";
  return (
    <Section>
      <Heading>{sentence("cutting/whatItIsLike")}</Heading>
      <Facts aria-label={sentence("cutting/whatItIsLike")} aria-busy={isDated}>
        <dt>{sentence("cutting/share")}</dt>
        <dd>{percent(figures.share)}</dd>
        <dt>{sentence("cutting/bandWidth")}</dt>
        <dd>{withUnit(plain(figures.band.widthPx, 1), "px")}</dd>
        {figures.edge && (
          <>
            <dt>{sentence("cutting/ownEdge")}</dt>
            <dd>{withUnit(plain(figures.edge.own, 1), "px")}</dd>
            <dt>{sentence("cutting/cutEdge")}</dt>
            <dd>{withUnit(plain(figures.edge.matte, 1), "px")}</dd>
          </>
        )}
        <dt>{sentence("cutting/spill")}</dt>
        <dd>{withUnit(plain(figures.spillDeltaE, 1), "ΔE")}</dd>
      </Facts>
      {how !== "right" && <Card>{sentence(how === "hard" ? "cutting/edgeHard" : "cutting/edgeSoft")}</Card>}
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
            {(p) =>
              content.cut?.by !== "alpha" && (
                <TextButton
                  isDisabled={isDisabled || isDated}
                  aria-label={sentence(message("cutting/fillAt", { x: p.x, y: p.y }))}
                  onPress={() => addMarks(layer, markOn("keep", [p]), message("step.cutGapKept", { name }))}
                >
                  {sentence("cutting/fill")}
                </TextButton>
              )
            }
          </Places>
        </Card>
      )}
      <LeaveOut layer={layer} content={content} parts={figures.islands} said="cutting/partsApart" isDisabled={isDisabled || isDated} />
      <LeaveOut layer={layer} content={content} parts={figures.stubs} said="cutting/stubsHang" isDisabled={isDisabled || isDated} />
    </Section>
  );
}

/** So large a stroke covers a part. */
const markOn = (what: "keep" | "leave", parts: MattePart[]) =>
  parts.map((p) => ({ what, diameterPx: Math.max(2, Math.round(Math.sqrt(p.area / Math.PI))), points: [p.x, p.y] }));

interface LeaveOutProps extends Props {
  parts: MattePart[];
  said: "cutting/partsApart" | "cutting/stubsHang";
}

/** What probably does not belong to a thing, to be left out one by one or all at once. */
function LeaveOut({ layer, content, parts, said, isDisabled }: LeaveOutProps) {
  if (parts.length === 0) return null;
  const leave = (some: MattePart[]) => addMarks(layer, markOn("leave", some), message("step.cutPartsLeft", { name: layer.name, count: some.length }));
  // what came with its alpha is left out by its mask
  const takesMarks = content.cut?.by !== "alpha";
  return (
    <Card>
      {sentence(message(said, { count: parts.length }))}{" "}
      {parts.length > 1 && takesMarks && (
        <TextButton isDisabled={isDisabled} onPress={() => leave(parts)}>
          {sentence("cutting/leaveAllOut")}
        </TextButton>
      )}
      <Places layer={layer} content={content} parts={parts}>
        {(p) =>
          takesMarks && (
            <TextButton isDisabled={isDisabled} aria-label={sentence(message("cutting/leaveOutAt", { x: p.x, y: p.y }))} onPress={() => leave([p])}>
              {sentence("cutting/leaveOut")}
            </TextButton>
          )
        }
      </Places>
    </Card>
  );
}

interface PlacesProps {
  layer: LayerRecord;
  content: FrameContent;
  parts: MattePart[];
  unit?: "cutting/placeOf" | "cutting/lengthAt";
  children?: (p: MattePart) => ReactNode;
}

function Places({ content, parts, unit = "cutting/placeOf", children }: PlacesProps) {
  const records = useSession((s) => s.records);
  const show = ({ x, y, area }: MattePart) => {
    const size = documentSize(records);
    if (!size) return;
    const [u, v] = project(movedMatrix(content.moved ?? UNMOVED, size, shownSize(records, content.frameId) ?? size), x, y);
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
