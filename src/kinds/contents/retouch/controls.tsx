"use client";
import { sentence } from "../../../messages/sentence";
import { valueStep } from "../../../messages/valueStep";
import { message, type Telling } from "../../../messages/message";
import { useEffect, useState } from "react";
import type { Twin } from "../../../core/retouch/findTwins";
import { paintedMask } from "../../../document/layerEdits";
import type { LayerRecord } from "../../../document/records/layerTypes";
import { ask } from "../../../session/openJob";
import { proposeSourceFor } from "../../../session/retouching";
import { report, useSession } from "../../../session/store";
import { Button, Choice, TextButton } from "../../../ui/components/Button";
import { MeasuredControl, type ValueRange } from "../../../ui/components/MeasuredControl";
import { Card, RowOf, Section, Soft } from "../../../ui/components/panels";
import { Select } from "../../../ui/components/Select";
import { plain } from "../../../ui/format";
import { jumpTo } from "../../../view/viewState";
import { isCancelled } from "../../../workers/client/EngineClient";
import { useCompose } from "../../../view/composeState";
import type { ContentControls, ControlsProps, Offer } from "../controlling";
import { setContent, showContent } from "../setContent";
import { RETOUCH_METHODS, type RetouchContent, type RetouchMethod } from "./record";
import { RETOUCH_NAMES } from "./words";

const DOES: Record<RetouchMethod, string> = {
  heal: sentence("layering/detailFromAnotherPlace"),
  clone: sentence("layering/anotherPlace"),
  fill: sentence("layering/whatLiesAroundLooked"),
  smooth: sentence("layering/tonesFromAroundArea"),
};

const VALUES: (ValueRange & { of: "dx" | "dy" | "angleDeg" | "scale" })[] = [
  { of: "dx", name: sentence("layering/fromRightBy"), unit: "px", neutral: 0, min: -4000, max: 4000, step: 1, digits: 0 },
  { of: "dy", name: sentence("layering/fromBelowBy"), unit: "px", neutral: 0, min: -4000, max: 4000, step: 1, digits: 0 },
  { of: "angleDeg", name: sentence("layering/turned"), unit: "°", neutral: 0, min: -180, max: 180, step: 0.5, digits: 1 },
  { of: "scale", name: sentence("common/size"), unit: "%", neutral: 1, min: 0.25, max: 4, step: 0.01, digits: 0, scale: 100 },
];

export function setRetouch(layer: LayerRecord, content: RetouchContent, given: Partial<RetouchContent>, label: Telling): void {
  setContent(layer, { ...content, ...given }, label);
}

/** Patches that the retouch makes stand twice, looked for a moment after the last change. */
function useTwins(layer: LayerRecord, content: RetouchContent): Twin[] {
  const records = useSession((s) => s.records);
  const [found, setFound] = useState<{ id: string; twins: Twin[] } | null>(null);
  const wanted = content.method !== "smooth";
  useEffect(() => {
    if (!wanted) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      ask("findTwinsOf", { records, layerId: layer.id }, { signal: controller.signal })
        .then((twins) => setFound({ id: layer.id, twins }))
        .catch((error: unknown) => isCancelled(error) || report(error));
    }, 900);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [records, layer.id, wanted]);
  return wanted && found?.id === layer.id ? found.twins : [];
}

/** How an area is mended, and where it is taken from. */
function RetouchControls({ layer, content, isDisabled }: ControlsProps<RetouchContent>) {
  const isBusy = useSession((s) => s.busy !== null);
  const pulling = useCompose((s) => s.pulling);
  const [twin] = useTwins(layer, content);
  const set = (given: Partial<RetouchContent>, label: Telling) => setRetouch(layer, content, given, label);
  const hasSource = content.method === "heal" || content.method === "clone";
  return (
    <Section>
      <Select<RetouchMethod>
        label={sentence("layering/mendedBy")}
        items={RETOUCH_METHODS.map((id) => ({ id, label: RETOUCH_NAMES[id] }))}
        chosen={content.method}
        isDisabled={isDisabled}
        onChoose={(method) => set({ method }, message("step.mendedBy", { method: RETOUCH_NAMES[method].toLowerCase() }))}
      />
      <Soft>{sentence(message("layering/followsAllChangesBelow", { value: DOES[content.method] }))}</Soft>
      {twin && (
        <Card $open role="status">
          {sentence(message("layering/samePatchNowStands", { value: Math.round(Math.hypot(twin.bx - twin.ax, twin.by - twin.ay)) }))}{" "}
          <TextButton
            onPress={() =>
              jumpTo({ x: Math.min(twin.ax, twin.bx), y: Math.min(twin.ay, twin.by), width: Math.abs(twin.bx - twin.ax), height: Math.abs(twin.by - twin.ay) })
            }
          >
            {sentence("common/show")}
          </TextButton>
        </Card>
      )}
      {hasSource && (
        <>
          <RowOf>
            <Choice isSelected={pulling} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ pulling: on, working: true })}>
              {sentence("layering/chooseSourceOnPicture")}
            </Choice>
            <Button isDisabled={isDisabled || isBusy} onPress={() => void proposeSourceFor(layer.id)}>
              {sentence("layering/proposeOne")}
            </Button>
          </RowOf>
          {VALUES.map(({ of, ...range }) => (
            <MeasuredControl
              key={of}
              {...range}
              value={content[of]}
              isDisabled={isDisabled}
              onPreview={(v) => showContent(layer, { ...content, [of]: v })}
              onChange={(v) =>
                set(
                  { [of]: v },
                  valueStep(
                    sentence(message("layering/sourceName", { name: range.name.toLowerCase() })),
                    plain(v * (range.scale ?? 1), range.digits),
                    range.unit,
                  ),
                )
              }
            />
          ))}
          <RowOf>
            <Choice
              isSelected={content.mirrored}
              isDisabled={isDisabled}
              onChange={(mirrored) => set({ mirrored }, mirrored ? "step.sourceMirrored" : "step.sourceNotMirrored")}
            >
              {sentence("layering/mirrored")}
            </Choice>
          </RowOf>
        </>
      )}
    </Section>
  );
}

const FOR: Record<RetouchMethod, string> = {
  heal: sentence("layering/paintWhatGoDetail"),
  clone: sentence("layering/paintWhereAnotherPlace"),
  fill: sentence("layering/paintWhatGoWhat"),
  smooth: sentence("layering/paintSpecksEvenSurface"),
};

const offer = (method: RetouchMethod): Offer => ({
  id: method,
  name: RETOUCH_NAMES[method],
  does: FOR[method],
  layer: () => ({
    name: RETOUCH_NAMES[method],
    content: { type: "retouch", method, dx: 0, dy: 0, angleDeg: 0, scale: 1, mirrored: false },
    mask: paintedMask(0),
  }),
  next: sentence("layering/paintWhatGo"),
  tab: "mask",
});

export const retouch: ContentControls<RetouchContent> = { Controls: RetouchControls, offers: RETOUCH_METHODS.map(offer) };
