"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { mergeOf, relativeEvOf } from "../../../document/selectors";
import { useSession } from "../../../session/store";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Section } from "../../../ui/components/panels";
import { signed, withUnit } from "../../../ui/format";
import type { ContentControls, ControlsProps } from "../controlling";
import { setContent, showContent } from "../setContent";
import { CutControls } from "./CutControls";
import { LightControls } from "./LightControls";
import { MoveControls } from "./MoveControls";
import type { FrameContent } from "./record";

function FrameControls(props: ControlsProps<FrameContent>) {
  const { layer, content, isDisabled } = props;
  const records = useSession((s) => s.records);
  const meets = -relativeEvOf(records, content.frameId);
  return (
    <>
      <Section>
        <MeasuredControl
          name={sentence("common/exposure")}
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
              ? { value: Math.round(meets * 100) / 100, reason: sentence(message("layering/meetsMergeMeets", { meets: withUnit(signed(meets, 2), "EV") })) }
              : null
          }
          hint={sentence("layering/asShotAtZero")}
          onPreview={(v) => showContent(layer, { ...content, exposureEv: v })}
          onChange={(v) => setContent(layer, { ...content, exposureEv: v }, message("step.layerExposure", { ev: v }))}
        />
      </Section>
      {!content.light && <CutControls {...props} />}
      {!content.cut && <LightControls {...props} />}
      <MoveControls {...props} />
    </>
  );
}

/** Frames are offered one by one. */
export const frame: ContentControls<FrameContent> = { Controls: FrameControls, offers: [] };
