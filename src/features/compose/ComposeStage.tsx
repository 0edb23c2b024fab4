"use client";
import { MERGE_NAMES } from "../../core/merge/mergeMethods";
import { useEffect, useMemo, useRef, useState } from "react";
import { strokeBounds } from "../../core/masks/placeDabs";
import { addLayer, addRecord, newId, removeLayer, updateRecord } from "../../document/edits";
import type { LayerRecord, Records, StrokeRecord } from "../../document/records/types";
import { documentSize, frameNumber, layersOf, mergedFramesOf, mergeOf, relativeEvOf, strokesOf } from "../../document/selectors";
import type { FrameProposal } from "../../engine/operations/proposals";
import type { ViewSpec } from "../../engine/operations/renderView";
import { engine } from "../../session/engine";
import { edit, report, setStage, useSession } from "../../session/session";
import { Button, Choice, PrimaryButton, TextButton } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Card, Figure, Heading, Row, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { percent, signed, withUnit } from "../../ui/format";
import { PictureView, type PicturePointer, type PictureTool } from "../../view/PictureView";
import { ReadoutLine } from "../../view/ReadoutLine";
import { rowKeys } from "../../view/rowKeys";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";
import { sizeByKey, useBrush, usePictureKeys } from "../../view/brush";
import { BrushControls } from "./BrushControls";

export type ComposeShown = "result" | "pattern" | "mask" | "frame";

/** Layers over the merge, each a frame with a painted mask. White reveals, black conceals. */
export function ComposeStage() {
  const { records, readOnly } = useSession();
  const layers = layersOf(records);
  const [chosenId, setChosen] = useState<string | null>(null);
  const [shown, setShown] = useState<ComposeShown>("result");
  const [painting, setPainting] = useState(true);
  const [at, setAt] = useState<[number, number] | null>(null);
  const [proposal, setProposal] = useState<FrameProposal | null>(null);
  const brush = useBrush();
  const layer = layers.find((l) => l.id === chosenId) ?? layers[layers.length - 1] ?? null;
  const size = documentSize(records);
  const stroke = useStroke(layer, records, (done) => {
    if (strokesOf(records, done.layerId).length === 0) void propose(done);
  });

  const propose = async (done: StrokeRecord) => {
    const b = strokeBounds(done.points, done.diameterPx);
    const region = { x: Math.floor(b.x0), y: Math.floor(b.y0), width: Math.ceil(b.x1 - b.x0), height: Math.ceil(b.y1 - b.y0) };
    try {
      setProposal(await engine.call("proposeFrame", { records: useSession.getState().records, region }));
    } catch (error) {
      report(error);
    }
  };

  useComposeKeys(layer, shown, setShown);
  if (!mergeOf(records) || !size) {
    return (
      <StageLayout
        ledger={
          <Section>
            <Heading>No layers</Heading>
          </Section>
        }
        bench={
          <Section>
            <Soft>Layers lie on the merge.</Soft>
          </Section>
        }
      >
        <EmptyPicture title="There is no merge to work on yet" action={<PrimaryButton onPress={() => setStage("merge")}>Go to Merge</PrimaryButton>}>
          Layers are laid over the merge: where it is not good enough, one frame shows through a mask.
        </EmptyPicture>
      </StageLayout>
    );
  }
  const view: ViewSpec =
    layer && shown === "pattern"
      ? { kind: "mask", layerId: layer.id, alone: false }
      : layer && shown === "mask"
        ? { kind: "mask", layerId: layer.id, alone: true }
        : layer && shown === "frame"
          ? { kind: "frame", frameId: layer.frameId }
          : { kind: "compose" };
  const tool: PictureTool | null = layer && painting && !readOnly && layer.visible ? { cursor: "none", ring: brush.diameterPx, ...stroke.handlers } : null;
  return (
    <StageLayout
      ledger={<LayerLedger layers={layers} chosen={layer} onChoose={setChosen} />}
      bench={layer ? <LayerBench layer={layer} proposal={proposal} painting={painting} setPainting={setPainting} /> : <NoLayerBench />}
      bar={
        <ViewChoices<ComposeShown>
          views={[
            { id: "result", label: "Result" },
            { id: "pattern", label: "Mask hatched", isDisabled: !layer },
            { id: "mask", label: "Mask alone", isDisabled: !layer },
            { id: "frame", label: "Layer's frame", isDisabled: !layer },
          ]}
          chosen={shown}
          onChoose={setShown}
        />
      }
      readout={
        <ReadoutLine
          records={records}
          at={at}
          extra={
            layer && (
              <span>
                painting <b>{brush.reveal ? "reveals" : "conceals"}</b>
              </span>
            )
          }
        />
      }
    >
      <PictureView
        name="Composition"
        panes={[{ view, records: stroke.records, label: "" }]}
        arrangement="single"
        size={size}
        tool={tool}
        dirty={stroke.dirty}
        onHover={(x, y) => setAt([Math.round(x), Math.round(y)])}
      />
    </StageLayout>
  );
}

/** A stroke while it is painted: it is shown at once, and becomes one step when the pen is lifted. */
function useStroke(layer: LayerRecord | null, records: Records, onDone: (stroke: StrokeRecord) => void) {
  const [live, setLive] = useState<StrokeRecord | null>(null);
  const current = useRef<StrokeRecord | null>(null);
  const [dirty, setDirty] = useState<{ x: number; y: number; width: number; height: number } | null>(null);
  const brush = useBrush();

  const touch = (points: number[]) => {
    const b = strokeBounds(points, brush.diameterPx);
    setDirty((old) => {
      const x = Math.floor(old && current.current ? Math.min(old.x, b.x0) : b.x0);
      const y = Math.floor(old && current.current ? Math.min(old.y, b.y0) : b.y0);
      const right = Math.ceil(old && current.current ? Math.max(old.x + old.width, b.x1) : b.x1);
      const bottom = Math.ceil(old && current.current ? Math.max(old.y + old.height, b.y1) : b.y1);
      return { x, y, width: right - x, height: bottom - y };
    });
  };
  const down = (p: PicturePointer) => {
    if (!layer) return;
    const index = strokesOf(records, layer.id).reduce((top, s) => Math.max(top, s.index + 1), 0);
    const { reveal, diameterPx, softness, flow, opacity } = brush;
    const points = [p.x, p.y, p.pressure];
    const stroke: StrokeRecord = {
      kind: "stroke",
      id: newId("stroke"),
      index,
      layerId: layer.id,
      partId: layer.mask.parts[0].id,
      reveal,
      diameterPx,
      softness,
      flow,
      opacity,
      points,
    };
    current.current = null;
    touch(points);
    current.current = stroke;
    setLive(stroke);
  };
  const move = (list: PicturePointer[]) => {
    const stroke = current.current;
    if (!stroke) return;
    const added = list.flatMap((p) => [p.x, p.y, p.pressure].map((v) => Math.round(v * 100) / 100));
    const next = { ...stroke, points: [...stroke.points, ...added] };
    current.current = next;
    touch([...stroke.points.slice(-3), ...added]);
    setLive(next);
  };
  const up = () => {
    const stroke = current.current;
    current.current = null;
    if (!stroke) return;
    setLive(null);
    edit(addRecord(stroke), { stage: "compose", label: `${stroke.reveal ? "Revealed" : "Concealed"} with a ${Math.round(stroke.diameterPx)} px stroke` });
    onDone(stroke);
  };
  const shown = useMemo(() => (live ? { ...records, [live.id]: live } : records), [live, records]);
  // after any other edit the whole picture counts as changed
  const stamp = useRef<Records>(records);
  useEffect(() => {
    if (stamp.current !== records && !current.current) {
      const added = Object.keys(records).filter((id) => !stamp.current[id]);
      const removed = Object.keys(stamp.current).some((id) => !records[id]);
      if (removed || added.length !== 1 || records[added[0]].kind !== "stroke") setDirty(null);
    }
    stamp.current = records;
  }, [records]);
  return { records: shown, dirty, handlers: { down, move, up } };
}

function useComposeKeys(layer: LayerRecord | null, shown: ComposeShown, setShown: (s: ComposeShown) => void) {
  usePictureKeys((event) => {
    const { softness } = useBrush.getState();
    if (event.key === "r") useBrush.setState({ reveal: true });
    else if (event.key === "n") useBrush.setState({ reveal: false });
    else if (event.key === "ArrowRight") useBrush.setState({ softness: Math.min(1, softness + 0.1) });
    else if (event.key === "ArrowLeft") useBrush.setState({ softness: Math.max(0, softness - 0.1) });
    else if (event.key === "m") setShown(shown === "result" ? "pattern" : shown === "pattern" ? "mask" : "result");
    else if (event.key === "t" && layer) invertMask(layer);
    else return sizeByKey(event);
    return true;
  });
}

function invertMask(layer: LayerRecord): void {
  edit(updateRecord<LayerRecord>(layer.id, { mask: { ...layer.mask, inverted: !layer.mask.inverted } }), {
    stage: "compose",
    label: `Mask of "${layer.name}" turned over`,
  });
}

function layFrame(records: Records, frameId: string): void {
  const number = frameNumber(records, frameId);
  edit(
    addLayer({
      name: `Frame ${number}`,
      frameId,
      exposureEv: 0,
      opacity: 1,
      mode: "normal",
      visible: true,
      mask: { ground: 0, inverted: false, parts: [{ kind: "painted", id: newId("part") }] },
    }),
    { stage: "compose", label: `Frame ${number} laid over the merge, concealed` },
    { measure: false },
  );
}

function AddLayer() {
  const { records, readOnly } = useSession();
  return (
    <RowOf role="group" aria-label="Lay a frame over the merge">
      {mergedFramesOf(records).map(({ frame }) => (
        <Button key={frame.id} isDisabled={readOnly} onPress={() => layFrame(records, frame.id)}>
          Frame {frameNumber(records, frame.id)}
        </Button>
      ))}
    </RowOf>
  );
}

function LayerLedger({ layers, chosen, onChoose }: { layers: LayerRecord[]; chosen: LayerRecord | null; onChoose: (id: string) => void }) {
  const { records } = useSession();
  const top = [...layers].reverse();
  const merge = mergeOf(records);
  return (
    <>
      <Section>
        <Heading>{layers.length ? `${layers.length} layer${layers.length === 1 ? "" : "s"} on the merge` : "The merge alone"}</Heading>
        <Soft>Lay a frame over it and paint where it should show:</Soft>
        <AddLayer />
      </Section>
      <Table aria-label="Layers">
        <thead>
          <tr>
            <th>Layer, top first</th>
            <th>Strokes</th>
            <th>Opacity</th>
          </tr>
        </thead>
        <tbody>
          {top.map((l) => (
            <Row
              key={l.id}
              $chosen={l.id === chosen?.id}
              $off={!l.visible}
              tabIndex={l.id === chosen?.id ? 0 : -1}
              aria-selected={l.id === chosen?.id}
              onClick={() => onChoose(l.id)}
              onKeyDown={rowKeys(
                top.map((x) => x.id),
                l.id,
                onChoose,
              )}
            >
              <td>
                <Figure value={l.name} word={`${l.mode}${l.exposureEv ? `, ${signed(l.exposureEv, 1)} EV` : ", as shot"}`} />
              </td>
              <td>
                <Figure value={String(strokesOf(records, l.id).length)} word={l.mask.inverted ? "turned over" : "painted"} />
              </td>
              <td>
                <Figure value={percent(l.opacity)} word={l.visible ? "shown" : "hidden"} />
              </td>
            </Row>
          ))}
          <tr>
            <td>
              <Figure value={merge ? MERGE_NAMES[merge.method] : ""} word="the ground" />
            </td>
            <td />
            <td>
              <Figure value={percent(1)} />
            </td>
          </tr>
        </tbody>
      </Table>
    </>
  );
}

function NoLayerBench() {
  return (
    <>
      <Section>
        <Heading>No layer chosen</Heading>
        <Soft>A layer begins concealed. Paint with a revealing brush where the frame should show; stay inside the object, so that no halo appears.</Soft>
      </Section>
      <Section>
        <Heading>Next</Heading>
        <RowOf>
          <PrimaryButton onPress={() => setStage("finish")}>Go to Finish</PrimaryButton>
        </RowOf>
      </Section>
    </>
  );
}

function LayerBench(props: { layer: LayerRecord; proposal: FrameProposal | null; painting: boolean; setPainting: (on: boolean) => void }) {
  const { layer, proposal, painting, setPainting } = props;
  const { records, readOnly } = useSession();
  const change = (next: Partial<LayerRecord>, label: string) => edit(updateRecord<LayerRecord>(layer.id, next), { stage: "compose", label });
  const meets = -relativeEvOf(records, layer.frameId);
  return (
    <>
      <Section>
        <Heading>Brush</Heading>
        <BrushControls painting={painting} setPainting={setPainting} />
        {proposal && proposal.best.frameId !== layer.frameId && (
          <Card>
            Here frame {proposal.best.number} is best: {proposal.reason}{" "}
            <TextButton
              onPress={() => change({ frameId: proposal.best.frameId, name: `Frame ${proposal.best.number}` }, `Layer takes frame ${proposal.best.number}`)}
            >
              Take frame {proposal.best.number}
            </TextButton>
          </Card>
        )}
        {proposal && proposal.best.frameId === layer.frameId && <Card>This frame is the best here: {proposal.reason}</Card>}
      </Section>
      <Section>
        <Heading>{layer.name}</Heading>
        <MeasuredControl
          name="Opacity"
          unit="%"
          value={layer.opacity}
          neutral={1}
          min={0}
          max={1}
          step={0.01}
          digits={0}
          scale={100}
          isDisabled={readOnly}
          onChange={(v) => change({ opacity: v }, `Layer opacity ${Math.round(v * 100)} %`)}
        />
        <MeasuredControl
          name="Exposure"
          unit="EV"
          value={layer.exposureEv}
          neutral={0}
          min={-8}
          max={8}
          step={0.05}
          digits={2}
          isDisabled={readOnly}
          proposal={
            mergeOf(records)?.method === "radiance" && Math.abs(meets) > 0.02
              ? { value: Math.round(meets * 100) / 100, reason: `Meets the merge at ${withUnit(signed(meets, 2), "EV")}.` }
              : null
          }
          hint="As shot at 0."
          onChange={(v) => change({ exposureEv: v }, `Layer exposure ${signed(v, 2)} EV`)}
        />
        <RowOf role="group" aria-label="Blend">
          {(["normal", "lighten"] as const).map((mode) => (
            <Choice key={mode} isSelected={layer.mode === mode} onChange={() => change({ mode }, `Layer blends ${mode}`)}>
              {mode === "normal" ? "Normal" : "Lighten"}
            </Choice>
          ))}
        </RowOf>
        <RowOf>
          <Button isDisabled={readOnly} onPress={() => invertMask(layer)}>
            Turn mask over
          </Button>
          <Button isDisabled={readOnly} onPress={() => change({ visible: !layer.visible }, layer.visible ? "Layer hidden" : "Layer shown")}>
            {layer.visible ? "Hide" : "Show"}
          </Button>
          <Button isDisabled={readOnly} onPress={() => edit(removeLayer(layer.id), { stage: "compose", label: `Layer "${layer.name}" removed` })}>
            Remove
          </Button>
        </RowOf>
      </Section>
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <PrimaryButton onPress={() => setStage("finish")}>Go to Finish</PrimaryButton>
        </RowOf>
      </Section>
    </>
  );
}
