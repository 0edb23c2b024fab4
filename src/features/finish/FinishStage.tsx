"use client";
import { useEffect, useState, type ReactNode } from "react";
import { invert, multiply, project } from "../../core/geometry/matrix3";
import { intersect } from "../../core/geometry/rectangle";
import { covers, fitRatio, largestCrop } from "../../core/geometry/validArea";
import { addPin, removeRecord, resetAdjustment, setAdjustment, setGeometry, updateRecord } from "../../document/edits";
import type { AdjustmentType, PinRecord, Records } from "../../document/records/types";
import {
  ADJUSTMENT_NAMES,
  adjustmentOf,
  adjustmentValues,
  framesOf,
  geometryOf,
  mergedFramesOf,
  mergeOf,
  NEUTRAL,
  pinsOf,
  registrationOf,
} from "../../document/selectors";
import { outputGeometry, outputToReference } from "../../document/outputGeometry";
import type { FinishProposals } from "../../engine/operations/proposals";
import { engine } from "../../session/engine";
import { edit, setStage, useSession } from "../../session/session";
import { Choice, PrimaryButton, TextButton } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Figure, Heading, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { pixels, plain, signed, withUnit } from "../../ui/format";
import { PictureView, type PictureTool } from "../../view/PictureView";
import { ReadoutLine } from "../../view/ReadoutLine";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";
import { AdjustmentControl } from "./AdjustmentControl";
import { ToneSection } from "./ToneSection";

type PinTool = "none" | "neutral" | "exposure" | "crop";
const RATIOS: { label: string; ratio: number | null }[] = [
  { label: "Free", ratio: null },
  { label: "3:2", ratio: 3 / 2 },
  { label: "4:5", ratio: 4 / 5 },
  { label: "1:1", ratio: 1 },
  { label: "16:9", ratio: 16 / 9 },
  { label: "2:1", ratio: 2 },
];

/** Adjustments as measured controls, pins, straighten and crop. */
export function FinishStage() {
  const { records, readOnly } = useSession();
  const merge = mergeOf(records);
  const reference = framesOf(records).find((f) => f.id === registrationOf(records)?.referenceId);
  const [preview, setPreview] = useState<Records | null>(null);
  const [pinTool, setPinTool] = useState<PinTool>("none");
  const [at, setAt] = useState<[number, number] | null>(null);
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const [proposals, setProposals] = useState<FinishProposals | null>(null);
  useEffect(() => {
    setPreview(null);
    if (!merge) return;
    let current = true;
    engine.call("proposeFinish", { records }).then(
      (p) => current && setProposals(p),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [records, merge]);
  if (!merge || !reference) {
    return (
      <StageLayout
        ledger={
          <Section>
            <Heading>No steps</Heading>
          </Section>
        }
        bench={
          <Section>
            <Soft>Finishing works on the merge and its layers.</Soft>
          </Section>
        }
      >
        <EmptyPicture title="There is no merge to finish yet" action={<PrimaryButton onPress={() => setStage("merge")}>Go to Merge</PrimaryButton>}>
          Exposure, white balance, contrast, chroma and crop are set here, each with a measured proposal where there is one.
        </EmptyPicture>
      </StageLayout>
    );
  }
  const inForce = outputGeometry(records);
  const cropping = pinTool === "crop" && !readOnly;
  const whole = { x: 0, y: 0, width: reference.width, height: reference.height };
  const shown = cropping ? wholeFrame(records, inForce.angleDeg, whole) : (preview ?? records);
  const geometry = outputGeometry(shown);
  const toReference = outputToReference(geometry, reference);
  const back = invert(toReference);
  const cropTool: PictureTool = {
    cursor: "crosshair",
    down: ({ x, y }) => setDrawn({ x0: x, y0: y, x1: x, y1: y }),
    move: (points) => setDrawn((d) => d && { ...d, x1: points[points.length - 1].x, y1: points[points.length - 1].y }),
    up: () => {
      if (drawn) takeDrawnCrop(records, drawn);
      setDrawn(null);
      setPinTool("none");
    },
  };
  const pinning: PictureTool = {
    cursor: "crosshair",
    down: ({ x, y }) => {
      const [u, v] = project(toReference, x, y);
      const purpose = pinTool === "exposure" ? "exposure" : "neutral";
      edit(addPin({ purpose, x: Math.round(u), y: Math.round(v), radius: 4, target: purpose === "exposure" ? 60 : null }), {
        stage: "finish",
        label: purpose === "neutral" ? "Neutral pin set" : "Exposure pin set",
      });
      setPinTool("none");
    },
  };
  const tool = cropping ? cropTool : pinTool === "none" || readOnly ? null : pinning;
  return (
    <StageLayout
      ledger={<StepLedger pinTool={pinTool} setPinTool={setPinTool} />}
      bench={
        <FinishBench
          proposals={proposals}
          onPreview={(change) => setPreview(change(records))}
          cropping={cropping}
          setCropping={(on) => setPinTool(on ? "crop" : "none")}
        />
      }
      bar={
        <ViewChoices views={[{ id: "finished", label: "Finished" }]} chosen="finished" onChoose={() => undefined}>
          {pinTool !== "none" && <Soft>{TOOL_HINTS[pinTool]}</Soft>}
        </ViewChoices>
      }
      readout={<ReadoutLine records={records} at={at} toReference={toReference} />}
    >
      <PictureView
        name="Finished picture"
        panes={[{ view: { kind: "output" }, records: shown, label: "" }]}
        arrangement="single"
        size={geometry.crop}
        tool={tool}
        onHover={(x, y) => setAt([Math.round(x), Math.round(y)])}
        overlay={(toScreen) => (
          <>
            {pinsOf(records).map((pin, i) => (
              <PinMark key={pin.id} number={i + 1} at={toScreen(...(project(back, pin.x + 0.5, pin.y + 0.5) as [number, number]))} />
            ))}
            {cropping && (
              <Frame
                corners={[toScreen(inForce.crop.x, inForce.crop.y), toScreen(inForce.crop.x + inForce.crop.width, inForce.crop.y + inForce.crop.height)]}
              />
            )}
            {cropping && drawn && <Frame corners={[toScreen(drawn.x0, drawn.y0), toScreen(drawn.x1, drawn.y1)]} />}
          </>
        )}
      />
    </StageLayout>
  );
}

interface Drawn {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

const TOOL_HINTS: Record<Exclude<PinTool, "none">, string> = {
  neutral: "Click the place that is neutral in that light.",
  exposure: "Click the place that must have a set lightness.",
  crop: "Drag a crop over the whole frame; it stays inside what every frame covers.",
};

const wholeFrames = new WeakMap<Records, Records>();
/** The records with the crop taken off, kept while they stay the same. */
function wholeFrame(records: Records, angleDeg: number, crop: { x: number; y: number; width: number; height: number }): Records {
  const found = wholeFrames.get(records) ?? setGeometry({ angleDeg, crop, ratio: null })(records);
  wholeFrames.set(records, found);
  return found;
}

/** Makes a drawn rectangle (turned frame px) the crop, as far as every frame covers it. */
function takeDrawnCrop(records: Records, d: Drawn): void {
  const { angleDeg } = outputGeometry(records);
  const x = Math.round(Math.min(d.x0, d.x1));
  const y = Math.round(Math.min(d.y0, d.y1));
  const wanted = { x, y, width: Math.round(Math.max(d.x0, d.x1)) - x + 1, height: Math.round(Math.max(d.y0, d.y1)) - y + 1 };
  if (wanted.width < 16 || wanted.height < 16) return;
  const { frames } = turnedFrames(records, angleDeg);
  const corners = [
    [x, y],
    [x + wanted.width - 1, y],
    [x, y + wanted.height - 1],
    [x + wanted.width - 1, y + wanted.height - 1],
  ];
  const valid = corners.every(([u, v]) => frames.every((f) => covers(f, u, v)));
  const crop = valid ? wanted : intersect(wanted, validCrop(records, angleDeg, null));
  if (crop.width >= 16 && crop.height >= 16)
    edit(setGeometry({ angleDeg, crop, ratio: null }), { stage: "finish", label: `Crop drawn, ${crop.width} × ${crop.height} px` });
}

/** Our double hairline between two corners. */
function Frame({ corners: [[x0, y0], [x1, y1]] }: { corners: [[number, number], [number, number]] }) {
  const box = { x: Math.min(x0, x1), y: Math.min(y0, y1), width: Math.abs(x1 - x0), height: Math.abs(y1 - y0) };
  return (
    <g fill="none">
      <rect {...box} stroke="#000" strokeWidth="3" />
      <rect {...box} stroke="#fff" strokeWidth="1" />
    </g>
  );
}

function PinMark({ at: [x, y], number }: { at: [number, number]; number: number }) {
  return (
    <g>
      <circle cx={x} cy={y} r="7" fill="none" stroke="#000" strokeWidth="3" />
      <circle cx={x} cy={y} r="7" fill="none" stroke="#fff" strokeWidth="1.2" />
      <text x={x + 11} y={y + 4} fontSize="12" fill="#fff" stroke="#000" strokeWidth="2.4" paintOrder="stroke">
        {number}
      </text>
    </g>
  );
}

function describeValues(type: AdjustmentType, v: Record<string, number>): string {
  switch (type) {
    case "exposure":
      return withUnit(signed(v.ev, 2), "EV");
    case "whiteBalance":
      return `${withUnit(signed(v.mired, 0), "mired")}, Duv ${signed(v.duv, 4)}`;
    case "contrast":
      return `${plain(v.factor, 2)} around ${withUnit(signed(Math.log2(v.pivot / 0.18), 1), "EV")}`;
    case "chroma":
      return withUnit(plain(v.factor * 100, 0), "%");
    case "tone":
      return `${v.curve === 1 ? "toe and shoulder" : "Reinhard"}, white at ${withUnit(signed(v.headroomEv, 1), "EV")}`;
    case "local":
      return `${withUnit(plain(v.strength * 100, 0), "%")} of the base evened out`;
  }
}

function StepLedger({ pinTool, setPinTool }: { pinTool: PinTool; setPinTool: (t: PinTool) => void }) {
  const { records, readOnly } = useSession();
  const types = (Object.keys(NEUTRAL) as AdjustmentType[]).filter((t) => adjustmentOf(records, t));
  const geometry = geometryOf(records);
  const pins = pinsOf(records);
  const count = types.length + (geometry ? 1 : 0);
  return (
    <>
      <Section>
        <Heading>{count === 0 ? "No steps set" : count === 1 ? "1 step set" : `${count} steps set`}</Heading>
        <Soft>They lie on top of the layers and can be changed at any time.</Soft>
      </Section>
      <Table aria-label="Steps">
        <tbody>
          {types.map((t) => (
            <tr key={t}>
              <td>
                <Figure value={ADJUSTMENT_NAMES[t]} word={describeValues(t, adjustmentValues(records, t))} />
              </td>
              <td style={{ textAlign: "right" }}>
                <TextButton
                  isDisabled={readOnly}
                  aria-label={`Reset ${ADJUSTMENT_NAMES[t]}`}
                  onPress={() => edit(resetAdjustment(t), { stage: "finish", label: `${ADJUSTMENT_NAMES[t]} reset` })}
                >
                  Reset
                </TextButton>
              </td>
            </tr>
          ))}
          {geometry && (
            <tr>
              <td>
                <Figure value="Crop" word={`${pixels(geometry.crop.width)} × ${pixels(geometry.crop.height)} px, turned ${signed(geometry.angleDeg, 2)}°`} />
              </td>
              <td style={{ textAlign: "right" }}>
                <TextButton
                  isDisabled={readOnly}
                  aria-label="Reset Crop"
                  onPress={() => edit(removeRecord(geometry.id), { stage: "finish", label: "Crop reset to the proposal" })}
                >
                  Reset
                </TextButton>
              </td>
            </tr>
          )}
        </tbody>
      </Table>
      <Section>
        <Heading>Pins</Heading>
        <Soft>Mark what is known; the proposals follow.</Soft>
        <RowOf>
          <Choice isSelected={pinTool === "neutral"} isDisabled={readOnly} onChange={(on) => setPinTool(on ? "neutral" : "none")}>
            This is neutral
          </Choice>
          <Choice isSelected={pinTool === "exposure"} isDisabled={readOnly} onChange={(on) => setPinTool(on ? "exposure" : "none")}>
            This has lightness
          </Choice>
        </RowOf>
      </Section>
      <Table aria-label="Pins">
        <tbody>
          {pins.map((pin, i) => (
            <PinRow key={pin.id} pin={pin} number={i + 1} readOnly={readOnly} />
          ))}
        </tbody>
      </Table>
    </>
  );
}

function PinRow({ pin, number, readOnly }: { pin: PinRecord; number: number; readOnly: boolean }) {
  return (
    <tr>
      <td>
        <Figure value={`${number}  ${pin.purpose === "neutral" ? "Neutral" : "Lightness"}`} word={`x ${pixels(pin.x)} y ${pixels(pin.y)}`} />
      </td>
      <td>
        {pin.target !== null && (
          <MeasuredControl
            name="L*"
            unit=""
            value={pin.target}
            neutral={60}
            min={2}
            max={98}
            step={1}
            digits={0}
            isDisabled={readOnly}
            onChange={(v) => edit(updateRecord<PinRecord>(pin.id, { target: v }), { stage: "finish", label: `Pin ${number} wants L* ${v}` })}
          />
        )}
      </td>
      <td style={{ textAlign: "right" }}>
        <TextButton
          isDisabled={readOnly}
          aria-label={`Remove pin ${number}`}
          onPress={() => edit(removeRecord(pin.id), { stage: "finish", label: `Pin ${number} removed` })}
        >
          Remove
        </TextButton>
      </td>
    </tr>
  );
}

function FinishBench(props: {
  proposals: FinishProposals | null;
  onPreview: (change: (r: Records) => Records) => void;
  cropping: boolean;
  setCropping: (on: boolean) => void;
}) {
  const { proposals, onPreview } = props;
  const { records, readOnly } = useSession();
  const radiance = mergeOf(records)?.method === "radiance";
  const control = (
    type: AdjustmentType,
    of: string,
    name: string,
    unit: string,
    range: { min: number; max: number; step: number; digits: number; scale?: number },
    extra: { proposal?: { value: number; reason: string } | null; hint?: string } = {},
  ) => <AdjustmentControl {...{ type, of, name, unit, onPreview }} {...range} {...extra} />;
  const wb = proposals?.whiteBalance;
  return (
    <>
      <Section>
        <Heading>Light</Heading>
        {control(
          "exposure",
          "ev",
          "Exposure",
          "EV",
          { min: -6, max: 6, step: 0.05, digits: 2 },
          { proposal: proposals?.exposure && { value: proposals.exposure.ev, reason: proposals.exposure.reason }, hint: "Pin a lightness for a proposal." },
        )}
        {control("contrast", "factor", "Contrast", "times", { min: 0.5, max: 2, step: 0.01, digits: 2 })}
        <MeasuredControl
          name="Contrast pivot"
          unit="EV"
          value={Math.log2(adjustmentValues(records, "contrast").pivot / 0.18)}
          neutral={0}
          min={-5}
          max={3}
          step={0.1}
          digits={1}
          isDisabled={readOnly}
          hint="Against 18 % grey."
          onChange={(v) => edit(setAdjustment("contrast", { pivot: 0.18 * 2 ** v }), { stage: "finish", label: `Contrast pivot ${signed(v, 1)} EV` })}
        />
      </Section>
      {radiance && <ToneSection headroom={proposals?.headroom ?? null} onPreview={onPreview} />}
      <Section>
        <Heading>Colour</Heading>
        {control(
          "whiteBalance",
          "mired",
          "White balance",
          "mired",
          { min: -120, max: 120, step: 1, digits: 0 },
          { proposal: wb && { value: Math.round(wb.mired * 10) / 10, reason: wb.reason }, hint: "Positive is warmer. Pin a neutral for a proposal." },
        )}
        {control(
          "whiteBalance",
          "duv",
          "Green to magenta",
          "Duv",
          { min: -0.05, max: 0.05, step: 0.0005, digits: 4 },
          { proposal: wb && { value: Math.round(wb.duv * 1e4) / 1e4, reason: wb.reason } },
        )}
        {wb && (
          <RowOf>
            <TextButton
              isDisabled={readOnly}
              onPress={() =>
                edit(setAdjustment("whiteBalance", { mired: wb.mired, duv: wb.duv }), { stage: "finish", label: "White balance from the neutral pin" })
              }
            >
              Take both from the pin
            </TextButton>
          </RowOf>
        )}
        {control("chroma", "factor", "Chroma", "%", { min: 0, max: 2, step: 0.01, digits: 0, scale: 100 })}
      </Section>
      <CropSection readOnly={readOnly} records={records} onPreview={onPreview}>
        <Choice isSelected={props.cropping} isDisabled={readOnly} onChange={props.setCropping}>
          Draw
        </Choice>
      </CropSection>
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <PrimaryButton onPress={() => setStage("proof")}>Go to Proof</PrimaryButton>
        </RowOf>
      </Section>
    </>
  );
}

/** The frames as they lie under a picture turned by an angle: reference px → turned px. */
export function turnedFrames(records: Records, angleDeg: number) {
  const reference = framesOf(records).find((f) => f.id === registrationOf(records)?.referenceId)!;
  const size = { width: reference.width, height: reference.height };
  const toTurned = invert(outputToReference({ angleDeg, crop: { x: 0, y: 0, ...size } }, size));
  const frames = mergedFramesOf(records).map(({ frame, matrix }) => ({ width: frame.width, height: frame.height, matrix: multiply(toTurned, matrix) }));
  return { size, frames };
}

/** The largest crop for an angle and a ratio that holds no empty pixel. */
export function validCrop(records: Records, angleDeg: number, ratio: number | null) {
  const { size, frames } = turnedFrames(records, angleDeg);
  const crop = largestCrop(size.width, size.height, frames, ratio ?? undefined);
  return crop ?? fitRatio({ x: 0, y: 0, ...size }, ratio ?? size.width / size.height);
}

function CropSection(props: { records: Records; readOnly: boolean; onPreview: (change: (r: Records) => Records) => void; children: ReactNode }) {
  const { records, readOnly, onPreview } = props;
  const { angleDeg, crop } = outputGeometry(records);
  const ratio = geometryOf(records)?.ratio ?? null;
  // a crop that was drawn keeps its shape
  const shape = geometryOf(records) && ratio === null ? crop.width / crop.height : ratio;
  const [most, setMost] = useState(crop);
  useEffect(() => setMost(validCrop(records, angleDeg, shape)), [records, angleDeg, shape]);
  const apply = (angle: number, r: number | null, label: string) =>
    edit(setGeometry({ angleDeg: angle, crop: validCrop(records, angle, r), ratio: r }), { stage: "finish", label });
  const inset = 1 - crop.width / most.width;
  /** A smaller crop inside the largest valid one, moved by shares of the room that is left. */
  const place = (smaller: number, px: number, py: number) => {
    const width = Math.max(16, Math.round(most.width * (1 - smaller)));
    const height = Math.max(16, Math.round(most.height * (1 - smaller)));
    return setGeometry({
      angleDeg,
      ratio,
      crop: { width, height, x: most.x + Math.round((most.width - width) * px), y: most.y + Math.round((most.height - height) * py) },
    });
  };
  const room = { x: most.width - crop.width, y: most.height - crop.height };
  const px = room.x > 0 ? Math.min(1, Math.max(0, (crop.x - most.x) / room.x)) : 0.5;
  const py = room.y > 0 ? Math.min(1, Math.max(0, (crop.y - most.y) / room.y)) : 0.5;
  return (
    <Section>
      <Heading>Straighten and crop</Heading>
      <MeasuredControl
        name="Turn"
        unit="°"
        value={angleDeg}
        neutral={0}
        min={-10}
        max={10}
        step={0.05}
        digits={2}
        isDisabled={readOnly}
        onPreview={(v) => onPreview(setGeometry({ angleDeg: v, crop, ratio }))}
        onChange={(v) => apply(v, ratio, `Turned by ${signed(v, 2)}°`)}
      />
      <RowOf role="group" aria-label="Ratio">
        {props.children}
        {RATIOS.map((r) => (
          <Choice key={r.label} isDisabled={readOnly} isSelected={r.ratio === ratio} onChange={() => apply(angleDeg, r.ratio, `Crop ${r.label.toLowerCase()}`)}>
            {r.label}
          </Choice>
        ))}
      </RowOf>
      <MeasuredControl
        name="Cut away"
        unit="%"
        value={Math.max(0, inset)}
        neutral={0}
        min={0}
        max={0.8}
        step={0.01}
        digits={0}
        scale={100}
        isDisabled={readOnly}
        proposal={{ value: 0, reason: `The most that holds no empty pixel: ${pixels(most.width)} × ${pixels(most.height)} px.` }}
        onPreview={(v) => onPreview(place(v, px, py))}
        onChange={(v) => edit(place(v, px, py), { stage: "finish", label: `Crop cut away by ${Math.round(v * 100)} %` })}
      />
      {inset > 0.004 && (
        <>
          <MeasuredControl
            name="Place across"
            unit="%"
            value={px}
            neutral={0.5}
            min={0}
            max={1}
            step={0.01}
            digits={0}
            scale={100}
            isDisabled={readOnly}
            onPreview={(v) => onPreview(place(inset, v, py))}
            onChange={(v) => edit(place(inset, v, py), { stage: "finish", label: "Crop moved" })}
          />
          <MeasuredControl
            name="Place down"
            unit="%"
            value={py}
            neutral={0.5}
            min={0}
            max={1}
            step={0.01}
            digits={0}
            scale={100}
            isDisabled={readOnly}
            onPreview={(v) => onPreview(place(inset, px, v))}
            onChange={(v) => edit(place(inset, px, v), { stage: "finish", label: "Crop moved" })}
          />
        </>
      )}
    </Section>
  );
}
