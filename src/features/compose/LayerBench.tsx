"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import styled from "styled-components";
import { useEffect, useMemo, useState } from "react";
import type { Effect } from "../../document/history";
import { takeFrame, updateLayer } from "../../document/layerEdits";
import type { LayerRecord } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";
import { frameOfLayer, leaksBeyond, layerOf } from "../../document/selectors";
import type { FrameProposal } from "../../engine/operations/finish/proposals";
import { ask, edit, setStage } from "../../session/openJob";
import { report, useSession, usePartsOf } from "../../session/store";
import { PrimaryButton, TextButton } from "../../ui/components/Button";
import { Choices } from "../../ui/components/Choices";
import { Card, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { percent } from "../../ui/format";
import { isCancelled } from "../../workers/client/EngineClient";
import { CleanSection } from "./CleanSection";
import { ContentTab } from "./ContentTab";
import { useCompose, type ComposeTab } from "../../view/composeState";
import { LayerTab } from "./LayerTab";
import { MaskTab } from "./MaskTab";

/** Two lines, whatever is said: what lies below must not move away under the pointer. */
const EffectLine = styled(Soft)`
  min-height: 2lh;
`;

const TABS: { id: ComposeTab; name: string }[] = [
  { id: "content", name: "Values" },
  { id: "mask", name: "Mask" },
  { id: "layer", name: "Layer" },
];

/** The controls of the layer chosen. */
export function LayerBench({ layer, frameProposal }: { layer: LayerRecord; frameProposal: FrameProposal | null }) {
  const records = useSession((s) => s.records);
  const tab = useCompose((s) => s.tab);
  const effect = useEffectOf(layer, records, records);
  return (
    <>
      <Section>
        <Heading>{layer.name}</Heading>
        <EffectLine>{effectSentence(layer, effect, layer.parentId === null ? undefined : layerOf(records, layer.parentId))}</EffectLine>
        <Leak layer={layer} />
        <FrameAdvice layer={layer} proposal={frameProposal} />
        <Choices
          label="What of the layer"
          items={TABS.map(({ id, name }) => ({ id, label: name }))}
          chosen={tab}
          onChoose={(next) => useCompose.setState({ tab: next })}
        />
      </Section>
      {tab === "content" && <ContentTab layer={layer} />}
      {tab === "mask" && <MaskTab layer={layer} />}
      {tab === "layer" && <LayerTab layer={layer} />}
      {tab === "layer" && <CleanSection layer={layer} />}
      <Next />
    </>
  );
}

export function NoLayerBench() {
  return (
    <>
      <Section>
        <Heading>No layer chosen</Heading>
        <Soft>A frame laid over begins concealed: paint with a revealing brush where it should show; stay inside the object, so that no halo appears.</Soft>
      </Section>
      <Next />
    </>
  );
}

function Next() {
  return (
    <Section>
      <RowOf style={{ marginTop: 0 }}>
        <PrimaryButton onPress={() => setStage("finish")}>Go to Finish</PrimaryButton>
      </RowOf>
    </Section>
  );
}

/** Which frame is best where something was painted first. */
function FrameAdvice({ layer, proposal }: { layer: LayerRecord; proposal: FrameProposal | null }) {
  const readOnly = useSession((s) => s.readOnly);
  const frameId = frameOfLayer(layer);
  if (!proposal || !frameId) return null;
  const { best, reason } = proposal;
  if (best.frameId === frameId) return <Card>This frame is the best here: {sentence(reason)}</Card>;
  const take = () =>
    edit(takeFrame(layer.id, best.frameId, `Frame ${best.number}`), { stage: "compose", label: message("step.layerTakes", { number: best.number }) });
  return (
    <Card>
      Here frame {best.number} is best: {sentence(reason)}{" "}
      <TextButton isDisabled={readOnly || layer.locked} onPress={take}>
        Take frame {best.number}
      </TextButton>
    </Card>
  );
}

/** How much of what an adjustment changes lies outside of the layer it lies on. */
function Leak({ layer }: { layer: LayerRecord }) {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const below = leaksBeyond(records, layer);
  const free = useEffectOf(layer, records, records);
  const kept = useMemo(() => updateLayer(layer.id, { clipped: true })(records), [layer.id, records]);
  const clipped = useEffectOf(below && layer, records, kept);
  if (!below || !measured(free) || !measured(clipped) || free.share === 0) return null;
  const outside = 1 - Math.min(1, clipped.share / free.share);
  if (outside < LEAST_LEAK) return null;
  return (
    <Card>
      {percent(outside)} of that lies outside of "{below.name}".{" "}
      <TextButton
        isDisabled={readOnly || layer.locked}
        onPress={() => edit(updateLayer(layer.id, { clipped: true }), { stage: "compose", label: message("step.layerClipped", { name: layer.name }) })}
      >
        Only on that layer
      </TextButton>
    </Card>
  );
}

/** A leak below this is not worth a word. */
const LEAST_LEAK = 0.02;
const measured = (effect: Effect | null | "measuring"): effect is Effect => effect !== null && effect !== "measuring";

/** What the picture would be without the layer, measured a moment after the last change. */
function useEffectOf(layer: LayerRecord | null, records: Records, after: Records): Effect | null | "measuring" {
  const id = layer?.id ?? null;
  const [found, setFound] = useState<{ records: Records; id: string; effect: Effect | null } | null>(null);
  useEffect(() => {
    if (!id) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      ask("measureEffect", { before: updateLayer(id, { visible: false })(records), after }, { signal: controller.signal })
        .then((effect) => setFound({ records: after, id, effect }))
        .catch((error: unknown) => isCancelled(error) || report(error));
    }, 700);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [id, records, after]);
  return found?.records === after && found.id === id ? found.effect : "measuring";
}

function effectSentence(layer: LayerRecord, effect: Effect | null | "measuring", group: LayerRecord | undefined): string {
  if (!layer.visible) return "Hidden.";
  if (effect === "measuring") return "Measuring what it changes …";
  if (!effect) return "";
  if (effect.share === 0 && layer.content.type === "adjustment" && group?.content.type === "group" && !group.content.through)
    return "Changes nothing: it reaches only what its group holds below it.";
  return effect.share === 0
    ? "Changes nothing that can be seen."
    : `Changes ${percent(effect.share)} of the picture by a mean ΔE of ${effect.meanDeltaE.toFixed(1)}.`;
}
