"use client";
import { sentence } from "../../../messages/sentence";
import { valueStep } from "../../../messages/valueStep";
import { message, type Telling } from "../../../messages/message";
import type { LayerRecord } from "../../../document/records/layerTypes";
import { mergedFramesOf } from "../../../document/selectors";
import { useSession } from "../../../session/store";
import { Button, Choice } from "../../../ui/components/Button";
import { MeasuredControl, type ValueRange } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { plain } from "../../../ui/format";
import { useCompose } from "../../../view/composeState";
import type { ControlsProps } from "../controlling";
import { setContent, showContent } from "../setContent";
import { FitControls } from "./FitControls";
import { UNMOVED, type FrameContent, type Moved } from "./record";

const MOVES: (ValueRange & { of: "dx" | "dy" | "angleDeg" | "scale" })[] = [
  { of: "dx", name: sentence("layering/toTheRight"), unit: "px", neutral: 0, min: -3000, max: 3000, step: 0.1, digits: 1 },
  { of: "dy", name: sentence("common/down"), unit: "px", neutral: 0, min: -3000, max: 3000, step: 0.1, digits: 1 },
  { of: "angleDeg", name: sentence("layering/turned"), unit: "°", neutral: 0, min: -180, max: 180, step: 0.05, digits: 2 },
  { of: "scale", name: sentence("common/size"), unit: "%", neutral: 1, min: 0.02, max: 4, step: 0.001, digits: 1, scale: 100 },
];
const CORNERS = [sentence("layering/topLeft"), sentence("layering/topRight"), sentence("layering/bottomRight"), sentence("layering/bottomLeft")];

/** Puts a layer's frame elsewhere, or leaves it where it was registered where nothing is said any more. */
export function moveFrame(layer: LayerRecord, content: FrameContent, moved: Moved | null, label: Telling): void {
  const still = moved && JSON.stringify(moved) === JSON.stringify(UNMOVED);
  setContent(layer, { ...content, moved: still ? null : moved, fit: null }, label);
}

/** Where the frame of a layer lies: shifted, turned, scaled, its corners pulled; never baked in. */
export function MoveControls({ layer, content, isDisabled }: ControlsProps<FrameContent>) {
  const records = useSession((s) => s.records);
  const pulling = useCompose((s) => s.pulling);
  const now = content.moved ?? UNMOVED;
  const isMerged = mergedFramesOf(records).some(({ frame }) => frame.id === content.frameId);
  return (
    <Section>
      <Heading>{isMerged ? sentence("layering/putElsewhere") : sentence("layering/whereItLies")}</Heading>
      <Soft>
        {sentence(
          message("layering/byCatmullRomInterpolation", {
            value: isMerged ? sentence("layering/fromWhereWasRegistered") : sentence("layering/fromMiddlePicturePx"),
          }),
        )}
      </Soft>
      <RowOf>
        <Choice isSelected={pulling} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ pulling: on, working: true })}>
          {sentence("layering/movePullCornersOn")}
        </Choice>
        <Button isDisabled={isDisabled || !content.moved} onPress={() => moveFrame(layer, content, null, "step.layerPutBack")}>
          {sentence("common/putBack")}
        </Button>
      </RowOf>
      <FitControls layer={layer} content={content} isDisabled={isDisabled} />
      {MOVES.map(({ of, ...range }) => (
        <MeasuredControl
          key={of}
          {...range}
          value={now[of]}
          isDisabled={isDisabled}
          onPreview={(v) => showContent(layer, { ...content, moved: { ...now, [of]: v } })}
          onChange={(v) => {
            const label = valueStep(
              sentence(message("layering/layerName", { name: range.name.toLowerCase() })),
              plain(v * (range.scale ?? 1), range.digits),
              range.unit,
            );
            moveFrame(layer, content, { ...now, [of]: v }, label);
          }}
        />
      ))}
      {(pulling || now.corners.some((v) => v !== 0)) &&
        now.corners.map((pulled, i) => {
          const name = `${CORNERS[i >> 1]} ${i % 2 ? sentence("layering/cornerDown") : sentence("layering/cornerAcross")}`;
          return (
            <MeasuredControl
              key={i}
              name={name}
              unit="px"
              value={pulled}
              neutral={0}
              min={-3000}
              max={3000}
              step={0.1}
              digits={1}
              isDisabled={isDisabled}
              onPreview={(v) => showContent(layer, { ...content, moved: { ...now, corners: now.corners.map((c, k) => (k === i ? v : c)) } })}
              onChange={(v) =>
                moveFrame(
                  layer,
                  content,
                  { ...now, corners: now.corners.map((c, k) => (k === i ? v : c)) },
                  valueStep(sentence(message("layering/layer", { name: name.toLowerCase() })), plain(v, 1), "px"),
                )
              }
            />
          );
        })}
    </Section>
  );
}
