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
  { id: "content", name: sentence("compose/values") },
  { id: "mask", name: sentence("common/mask") },
  { id: "layer", name: sentence("compose/layer") },
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
          label={sentence("compose/whatLayer")}
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
        <Heading>{sentence("compose/noLayerChosen")}</Heading>
        <Soft>{sentence("compose/frameLaidOverBegins")}</Soft>
      </Section>
      <Next />
    </>
  );
}

function Next() {
  return (
    <Section>
      <RowOf style={{ marginTop: 0 }}>
        <PrimaryButton onPress={() => setStage("finish")}>{sentence("compose/goToFinish")}</PrimaryButton>
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
  if (best.frameId === frameId) return <Card>{sentence(message("compose/frameBestHere", { reason: sentence(reason) }))}</Card>;
  const take = () =>
    edit(takeFrame(layer.id, best.frameId, sentence(message("common/frameNumber", { number: best.number }))), {
      stage: "compose",
      label: message("step.layerTakes", { number: best.number }),
    });
  return (
    <Card>
      {sentence(message("compose/hereFrameBest", { number: best.number, reason: sentence(reason) }))}{" "}
      <TextButton isDisabled={readOnly || layer.locked} onPress={take}>
        {sentence(message("compose/takeFrameNumber", { number: best.number }))}
      </TextButton>
    </Card>
  );
}

/** How much of what an adjustment changes lies outside of the layer it lies on. */
function Leak({ layer }: { layer: LayerRecord }) {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const below = leaksBeyond(records, layer);
  const free = useEffectOf(layer, records, records);
  const clippedTo = useMemo(() => updateLayer(layer.id, { clipped: true })(records), [layer.id, records]);
  const clipped = useEffectOf(below && layer, records, clippedTo);
  if (!below || !measured(free) || !measured(clipped) || free.share === 0) return null;
  const outside = 1 - Math.min(1, clipped.share / free.share);
  if (outside < LEAST_LEAK) return null;
  return (
    <Card>
      {sentence(message("compose/liesOutsideShare", { share: percent(outside), name: below.name }))}{" "}
      <TextButton
        isDisabled={readOnly || layer.locked}
        onPress={() => edit(updateLayer(layer.id, { clipped: true }), { stage: "compose", label: message("step.layerClipped", { name: layer.name }) })}
      >
        {sentence("compose/onlyOnLayer")}
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
  if (!layer.visible) return sentence("compose/hidden");
  if (effect === "measuring") return sentence("compose/measuringWhatChanges");
  if (!effect) return "";
  if (effect.share === 0 && layer.content.type === "adjustment" && group?.content.type === "group" && !group.content.through)
    return sentence("compose/changesNothingReachesOnly");
  return effect.share === 0
    ? sentence("compose/changesNothingCanSeen")
    : sentence(message("compose/changesPictureByMean", { share: percent(effect.share), meanDeltaE: effect.meanDeltaE.toFixed(1) }));
}
