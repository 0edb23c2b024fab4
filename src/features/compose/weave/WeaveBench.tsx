"use client";
import { sentence, title } from "../../../messages/sentence";
import { message, type Telling } from "../../../messages/message";
import { useState } from "react";
import { AIMS, type Aim } from "../../../core/weave/judgeRegions";
import { runRectangle } from "../../../core/masks/cellRuns";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { CellMeasures } from "../../../core/weave/judgeRegions";
import type { WeaveRecord, WeaveRegion } from "../../../document/records/weaveTypes";
import { frameNumber } from "../../../document/selectors";
import { aimRegion, chosenRuns, nameRegion, rankedFor, takeProposals } from "../../../document/weaveEdits";
import { edit } from "../../../session/openJob";
import { useSession, usePartsOf } from "../../../session/store";
import { Button, PrimaryButton } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section, Soft, Table } from "../../../ui/components/panels";
import { TextField } from "../../../ui/components/TextField";
import { Select } from "../../../ui/components/Select";
import { percent } from "../../../ui/format";
import { Patch, Patches, PatchPicture } from "../../../view/patches";
import { useCompose } from "../../../view/composeState";
import { joinRegion, layChosen, splitRegion, weaveFrames } from "./weaveActions";
import { takeFrame } from "./WeaveLedger";

const step = (label: Telling) => ({ stage: "compose", label });

/** A place that was pressed on, with what every frame is worth there. */
export interface Spot {
  rectangle: Rectangle;
  cells: CellMeasures[];
}

/** The region chosen: what it is looked at for, how the frames compare there, and how it is divided. */
export function WeaveBench({ weave, region, spot }: { weave: WeaveRecord; region: WeaveRegion | null; spot: Spot | null }) {
  const { readOnly, isBusy } = usePartsOf("readOnly", "isBusy");
  const isDisabled = readOnly || isBusy;
  const frames = chosenRuns(weave).length;
  return (
    <>
      {region && <RegionSection key={region.id} weave={weave} region={region} spot={spot} isDisabled={isDisabled} />}
      <Section>
        <MeasuredControl
          name={sentence("compose/regions")}
          unit=""
          value={weave.regions.length}
          neutral={12}
          min={2}
          max={40}
          step={1}
          digits={0}
          isDisabled={isDisabled}
          hint={sentence("compose/dividesSceneAnewNames")}
          onChange={(v) => void weaveFrames(v)}
        />
        <RowOf>
          <Button isDisabled={isDisabled} onPress={() => edit(takeProposals, step("step.bestEverywhere"))}>
            {sentence("compose/takeBestEverywhere")}
          </Button>
        </RowOf>
      </Section>
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <PrimaryButton isDisabled={isDisabled || frames === 0} onPress={() => void layChosen()}>
            {sentence(message("compose/layAsLayers", { frames }))}
          </PrimaryButton>
          <Button onPress={() => useCompose.setState({ weaving: false })}>{sentence("compose/backLayers")}</Button>
        </RowOf>
        <Soft style={{ marginTop: 6 }}>{sentence("compose/ordinaryLayersMasksCan")}</Soft>
      </Section>
    </>
  );
}

function RegionSection(props: { weave: WeaveRecord; region: WeaveRegion; spot: Spot | null; isDisabled: boolean }) {
  const { weave, region, spot, isDisabled } = props;
  const records = useSession((s) => s.records);
  const [name, setName] = useState(region.name);
  const ranked = rankedFor(records, weave, region.aim, region.cells);
  const shown = spot ? rankedFor(records, weave, region.aim, spot.cells) : ranked;
  const rectangle = spot?.rectangle ?? middleOf(region, weave);
  const others = weave.regions.filter((r) => r.id !== region.id);
  const keepName = () => {
    const next = name.trim().slice(0, 200);
    if (!next) setName(region.name);
    else if (next !== region.name) edit(nameRegion(region.id, next), step(message("step.regionNamed", { name: region.name, next })));
  };
  return (
    <>
      <Section>
        <TextField
          style={{ fontWeight: 600 }}
          aria-label={sentence("compose/nameRegion")}
          value={name}
          disabled={isDisabled}
          onChange={(e) => setName(e.target.value)}
          onBlur={keepName}
          onKeyDown={(e) => e.key === "Enter" && keepName()}
        />
        <RowOf>
          <Select<Aim>
            label={sentence("compose/lookedAtFor")}
            items={AIMS.map((id) => ({ id, label: title(`aim.${id}`) }))}
            chosen={region.aim}
            isDisabled={isDisabled}
            onChoose={(aim) => edit(aimRegion(region.id, aim), step(message("step.regionAim", { name: region.name, aim: message(`aim.${aim}`, {}) })))}
          />
        </RowOf>
        <Soft>{sentence(ranked.reason)}</Soft>
      </Section>
      <Section>
        <Heading>{spot ? sentence("compose/placePressedOn") : sentence("compose/inEachFrame")}</Heading>
        {spot && <Soft>{sentence(shown.reason)}</Soft>}
        <Patches role="group" aria-label={sentence(message("compose/eachFrameBestFirst", { name: region.name }))}>
          {shown.order.map((k) => {
            const frameId = weave.frameIds[k];
            const word = sentence(message("common/frameWithin", { number: frameNumber(records, frameId) }));
            return (
              <Patch key={frameId} isSelected={region.choice === frameId} isDisabled={isDisabled} onChange={() => takeFrame(region, frameId, word)}>
                <PatchPicture view={{ kind: "frame", frameId }} rectangle={rectangle} />
                {word}
              </Patch>
            );
          })}
          <Patch isSelected={region.choice === null} isDisabled={isDisabled} onChange={() => takeFrame(region, null, sentence("compose/theMerge"))}>
            <PatchPicture view={{ kind: "merge", method: null }} rectangle={rectangle} />
            {sentence("compose/theMerge")}
          </Patch>
        </Patches>
        {!spot && <Soft>{sentence("compose/pressOnPictureSee")}</Soft>}
      </Section>
      <Measures weave={weave} cells={spot?.cells ?? region.cells} />
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <Button isDisabled={isDisabled} onPress={() => void splitRegion(weave, region.id)}>
            {sentence("compose/partInTwo")}
          </Button>
        </RowOf>
        {others.length > 0 && (
          <Select<string>
            label={sentence("compose/joinWith")}
            chosen=""
            isDisabled={isDisabled}
            items={[{ id: "", label: sentence("compose/anotherRegion") }, ...others.map((r) => ({ id: r.id, label: r.name }))]}
            onChoose={(id) => id && void joinRegion(weave, region.id, id)}
          />
        )}
      </Section>
    </>
  );
}

const FROM = [
  "above",
  sentence("compose/theUpperRight"),
  sentence("compose/theRight"),
  sentence("compose/theLowerRight"),
  "below",
  sentence("compose/theLowerLeft"),
  sentence("compose/theLeft"),
  sentence("compose/theUpperLeft"),
];
/** A slope of light weaker than this says nothing, EV across the region. Common practice, no source. */
const LEAST_SLOPE = 0.25;

const ROWS: { name: string; of: (m: CellMeasures) => string }[] = [
  { name: sentence("compose/lightEv"), of: (m) => m.lightEv.toFixed(1).replace("-", "−") },
  { name: sentence("compose/shadeEv"), of: (m) => m.shadeEv.toFixed(2) },
  { name: sentence("compose/lost"), of: (m) => percent(m.clipped) },
  { name: sentence("common/noise"), of: (m) => percent(m.noise) },
  { name: sentence("compose/detailEv"), of: (m) => m.detailEv.toFixed(2) },
  { name: sentence("compose/rippleEv"), of: (m) => m.rippleEv.toFixed(2) },
  { name: sentence("common/chroma"), of: (m) => m.chroma.toFixed(3) },
  { name: sentence("compose/unlikeOthers"), of: (m) => percent(m.alone) },
];

/** All that was measured, frame by frame. */
function Measures({ weave, cells }: { weave: WeaveRecord; cells: CellMeasures[] }) {
  const records = useSession((s) => s.records);
  const lit = cells.flatMap((m, k) =>
    m.lightFromEv > LEAST_SLOPE
      ? [sentence(message("compose/litFrom", { number: frameNumber(records, weave.frameIds[k]), side: FROM[Math.round(m.lightFromDeg / 45) % 8] }))]
      : [],
  );
  return (
    <Section>
      <Table aria-label={sentence("compose/measuredRegion")}>
        <thead>
          <tr>
            <th>{sentence("common/measured")}</th>
            {weave.frameIds.map((id) => (
              <th key={id}>{frameNumber(records, id)}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ROWS.map(({ name, of }) => (
            <tr key={name}>
              <td>{name}</td>
              {cells.map((m, k) => (
                <td key={weave.frameIds[k]}>{of(m)}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </Table>
      {lit.length > 0 && <Soft style={{ marginTop: 4 }}>{sentence(message("compose/againstOthersLit", { value: lit.join(", ") }))}</Soft>}
    </Section>
  );
}

/** A square in the middle of a region's longest row, small enough to show what it is made of. */
function middleOf({ runs }: WeaveRegion, { cellPx }: WeaveRecord): Rectangle {
  const bounds = runRectangle(runs, cellPx);
  let [best, at] = [-1, 0];
  const centre = (bounds.y + bounds.height / 2) / cellPx;
  for (let i = 0; i < runs.length; i += 3) {
    const worth = runs[i + 2] - runs[i + 1] - Math.abs(runs[i] - centre);
    if (worth > best) [best, at] = [worth, i];
  }
  const side = Math.max(24 * cellPx, Math.min(bounds.width, bounds.height) / 2);
  const [x, y] = [((runs[at + 1] + runs[at + 2]) / 2) * cellPx, (runs[at] + 0.5) * cellPx];
  return { x: Math.round(x - side / 2), y: Math.round(y - side / 2), width: Math.round(side), height: Math.round(side) };
}
