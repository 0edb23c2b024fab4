"use client";
import { useEffect, useState } from "react";
import { ADJUSTMENT_KINDS, valuesOf, type AdjustmentValue, type LayerAdjustment } from "../../core/adjust/adjustments";
import { ungroup, updateLayer } from "../../document/layerEdits";
import type { LayerContent, LayerRecord } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";
import { childrenOf, mergeOf, relativeEvOf } from "../../document/selectors";
import type { Tones } from "../../engine/operations/finish/measureTones";
import { zonesFor } from "../../core/adjust/tone";
import { engine } from "../../session/engine";
import { edit } from "../../session/openJob";
import { report, useSession } from "../../session/store";
import { Button, TextButton } from "../../ui/components/Button";
import { MeasuredControl, type Proposal } from "../../ui/components/MeasuredControl";
import { Figure, Row, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { counted, percent, plain, signed, withUnit } from "../../ui/format";
import { FillContent } from "./FillContent";
import { CurveEditor } from "./CurveEditor";
import { RetouchContent } from "./RetouchContent";
import { MoveControls } from "./MoveControls";
import { isCancelled } from "../../workers/client/EngineClient";
import { showLive } from "../../session/live";

type Of<T extends LayerContent["type"]> = LayerContent & { type: T };
interface Props<T extends LayerContent["type"]> {
  layer: LayerRecord;
  content: Of<T>;
  isDisabled: boolean;
}

const change = (layer: LayerRecord, content: LayerContent, label: string) => edit(updateLayer(layer.id, { content }), { stage: "compose", label });

/** What the layer shows or does, with its values. */
export function ContentTab({ layer }: { layer: LayerRecord }) {
  const { readOnly, records } = useSession();
  const isDisabled = readOnly || layer.locked;
  const { content } = layer;
  switch (content.type) {
    case "frame":
      return <FrameContent layer={layer} content={content} isDisabled={isDisabled} />;
    case "adjustment":
      return <AdjustmentContent layer={layer} content={content} isDisabled={isDisabled} />;
    case "fill":
      return <FillContent layer={layer} content={content} isDisabled={isDisabled} />;
    case "retouch":
      return <RetouchContent layer={layer} content={content} isDisabled={isDisabled} />;
    case "group":
      return (
        <Section>
          <Soft>
            {counted(childrenOf(records, layer.id).length, "layer")}, blended among themselves first and then laid over what is below. Drag a row onto the group
            to put it in.
          </Soft>
          <RowOf>
            <Button
              isDisabled={isDisabled}
              onPress={() => edit(ungroup(layer.id), { stage: "compose", label: `Group "${layer.name}" taken away, its layers kept` })}
            >
              Take the group away
            </Button>
          </RowOf>
        </Section>
      );
    case "below":
      return (
        <Section>
          <Soft>What lies below, flattened. It follows every change there: choose a blend mode under Layer to use it.</Soft>
        </Section>
      );
    case "merge":
      return (
        <Section>
          <Soft>The merge, as it is now.</Soft>
        </Section>
      );
  }
}

function FrameContent({ layer, content, isDisabled }: Props<"frame">) {
  const { records } = useSession();
  const meets = -relativeEvOf(records, content.frameId);
  return (
    <>
      <Section>
        <MeasuredControl
          name="Exposure"
          unit="EV"
          value={content.exposureEv}
          neutral={0}
          min={-8}
          max={8}
          step={0.05}
          digits={2}
          isDisabled={isDisabled}
          proposal={
            mergeOf(records)?.method === "radiance" && Math.abs(meets) > 0.02
              ? { value: Math.round(meets * 100) / 100, reason: `Meets the merge at ${withUnit(signed(meets, 2), "EV")}.` }
              : null
          }
          hint="As shot at 0."
          onPreview={(v) => showLive(updateLayer(layer.id, { content: { ...content, exposureEv: v } }))}
          onChange={(v) => change(layer, { ...content, exposureEv: v }, `Layer exposure ${signed(v, 2)} EV`)}
        />
      </Section>
      <MoveControls layer={layer} content={content} isDisabled={isDisabled} />
    </>
  );
}

/** What the picture holds, measured while a layer of some kind is chosen. */
function useTones(records: Records, wanted: boolean): Tones | null {
  const [tones, setTones] = useState<Tones | null>(null);
  useEffect(() => {
    if (!wanted) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      engine
        .call("measureTones", { records }, { signal: controller.signal })
        .then(setTones)
        .catch((error: unknown) => isCancelled(error) || report(error));
    }, 500);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [records, wanted]);
  return tones;
}

function AdjustmentContent({ layer, content, isDisabled }: Props<"adjustment">) {
  const { records } = useSession();
  const { adjustment } = content;
  const kind = ADJUSTMENT_KINDS[adjustment];
  const values = valuesOf(adjustment, content.values);
  const tones = useTones(records, adjustment === "zones" || adjustment === "tint" || adjustment === "hueBand");
  const set = (given: Record<string, number>, label: string) => change(layer, { ...content, values: { ...content.values, ...given } }, label);
  return (
    <Section>
      <Soft>{kind.does}</Soft>
      {adjustment === "hueBand" && tones && (
        <HuesFound
          tones={tones}
          chosen={values.hueDeg}
          onChoose={(hueDeg, widthDeg) => set({ hueDeg, widthDeg }, `Hue band about ${hueDeg}°, ${widthDeg}° wide`)}
          isDisabled={isDisabled}
        />
      )}
      {adjustment === "curve" && <CurveEditor values={values} isDisabled={isDisabled} onChange={set} />}
      {shownValues(adjustment, values).map(([name, value]) => (
        <AdjustmentControl
          key={name}
          value={value}
          now={values[name]}
          isDisabled={isDisabled}
          proposal={tones && proposalOf(adjustment, name, values, tones)}
          onPreview={(v) => showLive(updateLayer(layer.id, { content: { ...content, values: { ...content.values, [name]: v } } }))}
          onChange={(v) =>
            set({ [name]: v }, `${kind.name}: ${value.name.toLowerCase()} ${plain(v * (value.scale ?? 1), value.digits)} ${value.unit}`.trimEnd())
          }
        />
      ))}
    </Section>
  );
}

interface AdjustmentProps {
  value: AdjustmentValue;
  now: number;
  isDisabled: boolean;
  proposal: Proposal | null;
  onPreview: (v: number) => void;
  onChange: (v: number) => void;
}

function AdjustmentControl(props: AdjustmentProps) {
  const { value, now, ...rest } = props;
  return <MeasuredControl {...value} value={now} {...rest} />;
}

/** The values with a control of their own kind: as many of a row as are in force, zones with the light they lie at. */
function shownValues(adjustment: LayerAdjustment, values: Record<string, number>): [string, AdjustmentValue][] {
  if (adjustment === "curve") return [];
  const shown = Object.entries(ADJUSTMENT_KINDS[adjustment].values).filter(([, { counted: row }]) => !row || row.place < values[row.by]);
  if (adjustment !== "zones") return shown;
  const { darkestEv, brightestEv, zones } = values;
  const at = (place: number) => withUnit(signed(darkestEv + ((brightestEv - darkestEv) * place) / (zones - 1), 1), "EV");
  return shown.map(([name, value]) => [name, value.counted ? { ...value, name: `At ${at(value.counted.place)}` } : value]);
}

/** Where the zones and the tint find the ends of this picture's light, and how many zones it wants. */
function proposalOf(adjustment: LayerAdjustment, name: string, values: Record<string, number>, tones: Tones): Proposal | null {
  const { darkestEv, brightestEv } = tones;
  if (adjustment === "zones" && name === "zones") {
    const range = brightestEv - darkestEv;
    return { value: zonesFor(range), reason: `This picture spans ${withUnit(plain(range, 1), "EV")}: one zone for about two.` };
  }
  if (adjustment !== "zones" && adjustment !== "tint") return null;
  const dark = name === "darkestEv" || name === "ev0";
  if (!dark && name !== "brightestEv" && name !== `ev${values.points - 1}`) return null;
  const { min, max } = ADJUSTMENT_KINDS[adjustment].values[name];
  const ev = Math.round(10 * Math.min(max, Math.max(min, dark ? darkestEv : brightestEv))) / 10;
  return { value: ev, reason: `0.5 % of this picture is ${dark ? "darker" : "brighter"} than ${withUnit(signed(ev, 1), "EV")}.` };
}

/** The bands of hues in the picture; choosing one centres the layer's band on it. */
function HuesFound(props: { tones: Tones; chosen: number; isDisabled: boolean; onChoose: (hueDeg: number, widthDeg: number) => void }) {
  const { tones, chosen, isDisabled, onChoose } = props;
  if (tones.hues.length === 0) return <Soft>This picture holds no colours to speak of.</Soft>;
  return (
    <Table aria-label="Hues in the picture" style={{ margin: "6px 0" }}>
      <thead>
        <tr>
          <th>Hue here</th>
          <th>Of the picture</th>
          <th>Chroma</th>
        </tr>
      </thead>
      <tbody>
        {tones.hues.slice(0, 6).map((h) => (
          <Row key={h.hueDeg} $chosen={Math.abs(h.hueDeg - chosen) < 2}>
            <td>
              <TextButton
                isDisabled={isDisabled}
                onPress={() => onChoose(h.hueDeg, h.widthDeg)}
                style={{ color: "inherit" }}
                aria-label={`Take the hues about ${h.hueDeg}°`}
              >
                {h.hueDeg}° ± {Math.round(h.widthDeg / 2)}
              </TextButton>
            </td>
            <td>
              <Figure value={percent(h.share)} />
            </td>
            <td>
              <Figure value={h.chroma.toFixed(3)} />
            </td>
          </Row>
        ))}
      </tbody>
    </Table>
  );
}
