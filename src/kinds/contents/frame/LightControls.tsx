"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { frameNumber, framesOf } from "../../../document/selectors";
import { addAsLight, endLight } from "../../../session/lighting";
import { useSession } from "../../../session/store";
import { Button, TextButton } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { Select } from "../../../ui/components/Select";
import { LUMINANCE } from "../../../core/color/primaries";
import type { ControlsProps } from "../controlling";
import { setContent, showContent } from "../setContent";
import type { FrameContent, FrameLight } from "./record";

/** Only what shines in a frame is added: its black level, its warmth, and the light that was there anyway. */
export function LightControls({ layer, content, isDisabled }: ControlsProps<FrameContent>) {
  const records = useSession((s) => s.records);
  const { light } = content;
  if (!light)
    return (
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <Button isDisabled={isDisabled} onPress={() => void addAsLight(layer)}>
            {sentence("lighting/addAsLight")}
          </Button>
        </RowOf>
        <Soft>{sentence("lighting/whatShines")}</Soft>
      </Section>
    );
  const others = framesOf(records).filter((f) => f.id !== content.frameId);
  const withLight = (given: Partial<FrameLight>): FrameContent => ({ ...content, light: { ...light, ...given } });
  const level = LUMINANCE.reduce((sum, w, c) => sum + w * light.black[c], 0);
  // a black level keeps its colour; without one it is grey
  const blackAt = (v: number) => (level > 0 ? light.black.map((b) => Math.min(4, (b * v) / level)) : [v, v, v]);
  return (
    <Section>
      <Heading>{sentence("lighting/addedAsLight")}</Heading>
      <MeasuredControl
        name={sentence("lighting/blackLevel")}
        unit="%"
        value={level}
        neutral={0}
        min={0}
        max={0.5}
        step={0.001}
        digits={1}
        scale={100}
        hint={sentence("lighting/takenOffFirst")}
        isDisabled={isDisabled}
        onPreview={(v) => showContent(layer, withLight({ black: blackAt(v) }))}
        onChange={(v) => setContent(layer, withLight({ black: blackAt(v) }), message("step.lightBlack", { name: layer.name, percent: 100 * v }))}
      />
      <MeasuredControl
        name={sentence("lighting/warmth")}
        unit="mired"
        value={light.warmthMired}
        neutral={0}
        min={-150}
        max={150}
        step={1}
        digits={0}
        isDisabled={isDisabled}
        onPreview={(v) => showContent(layer, withLight({ warmthMired: v }))}
        onChange={(v) => setContent(layer, withLight({ warmthMired: v }), message("step.lightWarmth", { name: layer.name, mired: Math.round(v) }))}
      />
      <Select<string>
        label={sentence("lighting/lightThatWasThere")}
        items={[
          { id: "", label: sentence("lighting/none") },
          ...others.map((f) => ({ id: f.id, label: sentence(message("common/frameNumber", { number: frameNumber(records, f.id) })) })),
        ]}
        chosen={light.ambientId ?? ""}
        isDisabled={isDisabled}
        onChoose={(id) =>
          setContent(
            layer,
            withLight({ ambientId: id || null }),
            id ? message("step.lightWithout", { name: layer.name, number: frameNumber(records, id) }) : message("step.lightAll", { name: layer.name }),
          )
        }
      />
      <RowOf>
        <TextButton isDisabled={isDisabled} onPress={() => endLight(layer)}>
          {sentence("lighting/layAsPicture")}
        </TextButton>
      </RowOf>
    </Section>
  );
}
