"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useMemo, useRef, useState } from "react";
import { strokeBounds } from "../../core/masks/placeDabs";
import { updateLayer, updateMask } from "../../document/layerEdits";
import { freshMask, type LayerRecord } from "../../document/records/layerTypes";
import { isPainted } from "../../kinds/maskParts/records";
import type { Records, StrokeRecord } from "../../document/records/types";
import { documentSize, frameOfLayer, mergeOf, strokesOf, weaveOf } from "../../document/selectors";
import type { FrameProposal } from "../../engine/operations/finish/proposals";
import type { ViewSpec } from "../../engine/operations/view/ViewSpec";
import { ask, edit, setStage } from "../../session/openJob";
import { report, useSession, usePartsOf } from "../../session/store";
import { PrimaryButton, TextButton } from "../../ui/components/Button";
import { Heading, Section, Soft } from "../../ui/components/panels";
import { setDiameter, sizeByKey, useBrush, usePictureKeys } from "../../view/brush";
import { PictureView } from "../../view/PictureView";
import type { PicturePointer, PictureTool } from "../../view/pictureTool";
import { ReadoutLine } from "../../view/ReadoutLine";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { turnView, useView } from "../../view/viewState";
import { actOf } from "../../view/keys";
import { useHeldKey } from "../../view/useHeldKey";
import { ViewChoices } from "../../view/ViewChoices";
import { alone, chosenPart, takesAway, useChosenLayer, useCompose, type ComposeShown } from "../../view/composeState";
import { LayerBench, NoLayerBench } from "./LayerBench";
import { LayerLedger } from "./LayerLedger";
import { proposeSourceFor } from "../../session/retouching";
import { useSource } from "./useSource";
import { CornerOverlay, ShapeOverlay, SourceOverlay } from "./ShapeOverlay";
import { isDrawn, useShape } from "./useShape";
import { usePull } from "./usePull";
import { canSeat } from "../../session/seating";
import { SeatStage } from "./seat/SeatStage";
import { SwapStage } from "./swap/SwapStage";
import { WeaveStage } from "./weave/WeaveStage";
import { useStroke } from "./useStroke";
import { useCutTool } from "./useCutTool";
import { CutOverlay } from "./CutOverlay";
import { isTold } from "../../kinds/contents/frame/record";

/** Layers over the merge, or the weave or the swaps that lay some. */
export function ComposeStage() {
  const records = useSession((s) => s.records);
  const weaving = useCompose((s) => s.weaving);
  const swapping = useCompose((s) => s.swapping);
  const seating = useCompose((s) => s.seating);
  const weave = weaveOf(records);
  if (seating && canSeat(records)) return <SeatStage />;
  if (swapping && mergeOf(records) && documentSize(records)) return <SwapStage />;
  return weaving && weave && mergeOf(records) ? <WeaveStage weave={weave} /> : <LayersStage />;
}

/** Layers over the merge, each with a mask. White reveals, black conceals. */
function LayersStage() {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const { shown, partId, working, soloId, tab, pulling, over, away } = useCompose();
  const turnDeg = useView((s) => s.turnDeg);
  const [proposal, setProposal] = useState<FrameProposal | null>(null);
  const [unmasked, setUnmasked] = useState(false);
  const [without, setWithout] = useState(false);
  const [sizing, setSizing] = useState(false);
  const [direct, setDirect] = useState(false);
  const layer = useChosenLayer(records);
  const part = chosenPart(layer, partId);
  const brush = useBrush();
  const size = documentSize(records);

  const propose = async (done: StrokeRecord) => {
    const b = strokeBounds(done.points, done.diameterPx);
    const region = { x: Math.floor(b.x0), y: Math.floor(b.y0), width: Math.ceil(b.x1 - b.x0), height: Math.ceil(b.y1 - b.y0) };
    try {
      setProposal(await ask("proposeFrame", { records: useSession.getState().records, region }));
    } catch (error) {
      report(error);
    }
  };
  const stroke = useStroke(layer, part, records, direct, (done) => {
    if (
      layer?.content.type === "retouch" &&
      layer.content.dx === 0 &&
      layer.content.dy === 0 &&
      layer.content.method !== "fill" &&
      layer.content.method !== "smooth"
    )
      void proposeSourceFor(layer.id);
    if (layer?.content.type === "frame" && strokesOf(records, done.layerId).length === 0) void propose(done);
  });
  const shape = useShape(layer, part, direct);
  const pull = usePull(layer, records);
  const source = useSource(layer, records, pulling && tab === "content");
  const cutTool = useCutTool(layer, records);
  useComposeKeys(layer, shown);
  useHeldKey("withoutMask", setUnmasked);
  useHeldKey("withoutLayer", setWithout);
  useHeldKey("drawBrush", setSizing);
  useHeldKey("straight", setDirect);
  const sizer = useBrushSizer();

  const viewed = useMemo(() => viewedRecords(records, layer, { soloId, unmasked, without }), [records, layer, soloId, unmasked, without]);
  if (!mergeOf(records) || !size) return <NoMerge />;

  const view: ViewSpec = viewOf(shown, layer);
  const canWork = layer !== null && working && !readOnly && layer.visible && !layer.locked;
  const tool: PictureTool | null = !canWork
    ? null
    : pulling && pull && tab === "content"
      ? { cursor: "move", ...pull.handlers }
      : pulling && source && tab === "content"
        ? { cursor: "crosshair", ...source.handlers }
        : cutTool && tab === "content"
          ? { ...cutTool, ...("ring" in cutTool && sizing ? sizer : foldingAway(cutTool)) }
          : part && isPainted(part)
            ? { cursor: "none", ring: brush.diameterPx, ...(sizing ? sizer : foldingAway(stroke)) }
            : isDrawn(part) && tab === "mask"
              ? { cursor: "crosshair", ...shape }
              : null;
  return (
    <StageLayout
      over={over ? { away, back: () => useCompose.setState({ away: false }) } : null}
      ledger={<LayerLedger />}
      bench={layer ? <LayerBench layer={layer} frameProposal={proposal} /> : <NoLayerBench />}
      bar={
        <ViewChoices<ComposeShown>
          views={[
            { id: "result", label: sentence("compose/result") },
            { id: "pattern", label: sentence("compose/maskOverlay"), isDisabled: !layer },
            { id: "mask", label: sentence("compose/maskAlone"), isDisabled: !layer },
            { id: "edge", label: sentence("compose/edge"), isDisabled: !layer },
            { id: "lifted", label: `+${LIFT_EV} EV` },
            { id: "residual", label: sentence("compose/remnants"), isDisabled: !layer || !takesAway(layer) },
            { id: "frame", label: sentence("common/frame"), isDisabled: !layer || !frameOfLayer(layer) },
          ]}
          chosen={shown}
          onChoose={(s) => useCompose.setState({ shown: s })}
        >
          {soloId && (
            <span role="status">
              {sentence("compose/oneLayerAlone")} <TextButton onPress={() => useCompose.setState({ soloId: null })}>{sentence("compose/showAll")}</TextButton>
            </span>
          )}
          {turnDeg !== 0 && (
            <TextButton onPress={() => useView.setState({ turnDeg: 0 })}>{sentence(message("compose/straightenTurnDeg", { turnDeg }))}</TextButton>
          )}
          {(unmasked || without) && <span role="status">{unmasked ? sentence("compose/withoutItsMask") : sentence("compose/withoutTheLayer")}</span>}
        </ViewChoices>
      }
      readout={
        <ReadoutLine
          records={records}
          extra={
            <WorkSentence
              layer={layer}
              kind={part?.kind ?? null}
              tool={tool !== null}
              reveal={brush.reveal}
              pulling={pulling && tab === "content"}
              cutting={cutTool !== null && tab === "content"}
            />
          }
        />
      }
    >
      <PictureView
        name={sentence("compose/composition")}
        live
        panes={[{ view, records: viewed, label: "" }]}
        arrangement="single"
        turnable
        size={size}
        tool={tool}
        overlay={({ toScreen, scale, records: now }) =>
          pulling && pull && tab === "content" ? (
            <CornerOverlay corners={pull.cornersIn(now)} toScreen={toScreen} />
          ) : pulling && source && tab === "content" ? (
            <SourceOverlay area={source.area} source={source.sourceIn(now)} toScreen={toScreen} />
          ) : cutTool && tab === "content" ? (
            <CutOverlay layer={layer!} records={now} toScreen={toScreen} scale={scale} />
          ) : (
            tab === "mask" && isDrawn(part) && <ShapeOverlay part={part} toScreen={toScreen} scale={scale} turnDeg={turnDeg} />
          )
        }
      />
    </StageLayout>
  );
}

/** What is left of a thing in the dark shows when it is lifted so much. */
const LIFT_EV = 4;

function viewOf(shown: ComposeShown, layer: LayerRecord | null): ViewSpec {
  const frameId = layer && frameOfLayer(layer);
  if (shown === "lifted") return { kind: "compose", liftEv: LIFT_EV };
  if (layer && shown === "pattern") return { kind: "mask", layerId: layer.id, as: "pattern" };
  if (layer && shown === "mask") return { kind: "mask", layerId: layer.id, as: "alone" };
  if (layer && shown === "edge") return { kind: "mask", layerId: layer.id, as: "edge" };
  if (layer && shown === "residual" && takesAway(layer)) return { kind: "residual", layerId: layer.id };
  return frameId && shown === "frame" ? { kind: "frame", frameId } : { kind: "compose" };
}

/** The job as it is looked at for a moment; none of this changes the job. */
function viewedRecords(records: Records, layer: LayerRecord | null, how: { soloId: string | null; unmasked: boolean; without: boolean }): Records {
  const solo = how.soloId && records[how.soloId] ? alone(records, how.soloId) : records;
  if (!layer) return solo;
  if (how.unmasked) return updateLayer(layer.id, { mask: freshMask(1) })(solo);
  return how.without ? updateLayer(layer.id, { visible: false })(solo) : solo;
}

/** What the pointer would do now, and what keeps it from doing so. */
function WorkSentence(props: { layer: LayerRecord | null; kind: string | null; tool: boolean; reveal: boolean; pulling: boolean; cutting: boolean }) {
  const { layer, kind, tool, reveal, pulling, cutting } = props;
  const marking = useCompose((s) => s.marking);
  if (!layer) return null;
  if (!layer.visible) return <span>{sentence("compose/layerIsHidden")}</span>;
  if (layer.locked) return <span>{sentence("compose/layerLocked")}</span>;
  if (!tool) return <span>{sentence("compose/dragMovesView")}</span>;
  if (pulling) return <span>{layer.content.type === "retouch" ? sentence("compose/pressSetsSource") : sentence("compose/dragMovesFrameIts")}</span>;
  if (cutting && layer.content.type === "frame" && layer.content.cut) {
    if (!isTold(layer.content.cut)) return <span>{sentence("cutting/dragsBox")}</span>;
    return <span>{sentence(marking === "keep" ? "cutting/strokeKeeps" : marking === "leave" ? "cutting/strokeLeaves" : "cutting/strokeOpens")}</span>;
  }
  if (kind === "soften")
    return <span>{sentence(message("compose/brush", { value: reveal ? sentence("compose/softensTheMask") : sentence("compose/takesSofteningBack") }))}</span>;
  if (kind !== "painted") return <span>{sentence("compose/dragDraws")}</span>;
  const does = reveal !== layer.mask.inverted ? sentence("compose/reveals") : sentence("compose/conceals");
  return (
    <span>
      {sentence("compose/brushWithin")}{" "}
      <b>{layer.mask.density < 1 ? sentence(message("compose/atMostDensity", { does, density: Math.round(layer.mask.density * 100) })) : does}</b>
    </span>
  );
}

function NoMerge() {
  return (
    <StageLayout
      ledger={
        <Section>
          <Heading>{sentence("compose/noLayers")}</Heading>
        </Section>
      }
      bench={
        <Section>
          <Soft>{sentence("compose/layersLieOnMerge")}</Soft>
        </Section>
      }
    >
      <EmptyPicture
        title={sentence("compose/thereNoMergeWork")}
        action={<PrimaryButton onPress={() => setStage("merge")}>{sentence("common/goToMerge")}</PrimaryButton>}
      >
        {sentence("compose/layersLaidOverMerge")}
      </EmptyPicture>
    </StageLayout>
  );
}

const TURN_DEG = 15;

/** The same handlers; panels that give way are away from the first touch on. */
function foldingAway<T extends { down: (p: PicturePointer) => void }>(handlers: T): T {
  const down = (p: PicturePointer) => {
    if (useCompose.getState().over) useCompose.setState({ away: true });
    handlers.down(p);
  };
  return { ...handlers, down };
}

/** Draws the brush on the picture: as wide as the pointer is away from where it was put down. */
function useBrushSizer() {
  const middle = useRef<PicturePointer | null>(null);
  return {
    down: (p: PicturePointer) => {
      middle.current = p;
    },
    move: (list: PicturePointer[]) => {
      const [from, to] = [middle.current, list.at(-1)];
      if (from && to) setDiameter(2 * Math.hypot(to.x - from.x, to.y - from.y));
    },
    up: () => {
      middle.current = null;
    },
  };
}

function useComposeKeys(layer: LayerRecord | null, shown: ComposeShown) {
  usePictureKeys((event) => {
    const { softness } = useBrush.getState();
    const act = actOf(event);
    if (act === "reveal" || act === "conceal") {
      useBrush.setState({ reveal: act === "reveal" });
      useCompose.setState({ marking: act === "reveal" ? "keep" : "leave" });
    } else if (event.key === "ArrowRight") useBrush.setState({ softness: Math.min(1, softness + 0.1) });
    else if (event.key === "ArrowLeft") useBrush.setState({ softness: Math.max(0, softness - 0.1) });
    else if (act === "maskView")
      useCompose.setState({ shown: shown === "result" ? "pattern" : shown === "pattern" ? "mask" : shown === "mask" ? "edge" : "result" });
    else if (act === "invertMask" && layer)
      edit(updateMask(layer.id, { inverted: !layer.mask.inverted }), { stage: "compose", label: message("step.maskInverted", { name: layer.name }) });
    else if (act === "turnLeft" || act === "turnRight") turnView(act === "turnLeft" ? -TURN_DEG : TURN_DEG);
    else return sizeByKey(event);
    return true;
  });
}
