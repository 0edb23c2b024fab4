"use client";
import { sentence } from "../../../messages/sentence";
import { valueStep } from "../../../messages/valueStep";
import { message, type Telling } from "../../../messages/message";
import { documentSize } from "../../../document/selectors";
import { useSession } from "../../../session/store";
import { Choice } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section } from "../../../ui/components/panels";
import { plain } from "../../../ui/format";
import type { ContentControls, ControlsProps } from "../controlling";
import { setContent, showContent } from "../setContent";
import type { Colour, ColourRamp, FillContent } from "./record";

const CHANNELS = ["red", "green", "blue"] as const;
const hex = (colour: Colour) =>
  `#${CHANNELS.map((c) =>
    Math.round(colour[c] * 255)
      .toString(16)
      .padStart(2, "0"),
  ).join("")}`;
const ENDS = [
  { of: "x0", name: sentence("layering/beginsAcross") },
  { of: "y0", name: sentence("layering/beginsDown") },
  { of: "x1", name: sentence("layering/endsAcross") },
  { of: "y1", name: sentence("layering/endsDown") },
] as const;

/** One colour or two along a ramp, with grain. */
function FillControls({ layer, content, isDisabled }: ControlsProps<FillContent>) {
  const records = useSession((s) => s.records);
  const { width, height } = documentSize(records) ?? { width: 1, height: 1 };
  const { ramp } = content;
  const set = (given: Partial<FillContent>, label: Telling) => setContent(layer, { ...content, ...given }, label);
  const setRamp = (given: Partial<ColourRamp>, label: Telling) => ramp && set({ ramp: { ...ramp, ...given } }, label);
  const black: ColourRamp = { red: 0, green: 0, blue: 0, x0: width / 2, y0: 0, x1: width / 2, y1: height };
  return (
    <Section>
      <ColourControls name={sentence("common/colour")} colour={content} isDisabled={isDisabled} onChange={set} />
      <RowOf>
        <Choice
          isSelected={ramp !== null}
          isDisabled={isDisabled}
          onChange={(on) => set({ ramp: on ? black : null }, on ? "step.secondColour" : "step.oneColour")}
        >
          {sentence("layering/turnsIntoSecondColour")}
        </Choice>
      </RowOf>
      {ramp && (
        <>
          <Heading>{sentence("layering/secondColour")}</Heading>
          <ColourControls name={sentence("layering/secondColour")} colour={ramp} isDisabled={isDisabled} onChange={setRamp} />
          {ENDS.map(({ of, name }) => (
            <MeasuredControl
              key={of}
              name={name}
              unit="px"
              value={ramp[of]}
              neutral={black[of]}
              min={0}
              max={of[0] === "x" ? width : height}
              step={1}
              digits={0}
              isDisabled={isDisabled}
              onPreview={(v) => showContent(layer, { ...content, ramp: { ...ramp, [of]: v } })}
              onChange={(v) =>
                setRamp({ [of]: v }, valueStep(sentence(message("layering/gradientName", { name: name.toLowerCase() })), String(Math.round(v)), "px"))
              }
            />
          ))}
        </>
      )}
      <MeasuredControl
        name={sentence("layering/grain")}
        unit="%"
        value={content.grain}
        neutral={0}
        min={0}
        max={0.3}
        step={0.002}
        digits={1}
        scale={100}
        hint={sentence("layering/standardDeviationEncoded")}
        isDisabled={isDisabled}
        onPreview={(v) => showContent(layer, { ...content, grain: v })}
        onChange={(v) => set({ grain: v }, valueStep(sentence("layering/grain"), plain(100 * v, 1), "%"))}
      />
      <MeasuredControl
        name={sentence("layering/grainSize")}
        unit="px"
        value={content.grainPx}
        neutral={2}
        min={1}
        max={20}
        step={0.1}
        digits={1}
        isDisabled={isDisabled}
        onPreview={(v) => showContent(layer, { ...content, grainPx: v })}
        onChange={(v) => set({ grainPx: v }, valueStep(sentence("layering/grainSize"), plain(v, 1), "px"))}
      />
    </Section>
  );
}

function ColourControls(props: { name: string; colour: Colour; isDisabled: boolean; onChange: (given: Partial<Colour>, label: Telling) => void }) {
  const { name, colour, isDisabled, onChange } = props;
  return (
    <>
      <RowOf style={{ marginTop: 0 }}>
        <label>
          {name}{" "}
          <input
            type="color"
            value={hex(colour)}
            disabled={isDisabled}
            onChange={(e) => {
              const [red, green, blue] = [1, 3, 5].map((i) => parseInt(e.target.value.slice(i, i + 2), 16) / 255);
              onChange({ red, green, blue }, valueStep(name, e.target.value));
            }}
          />
        </label>
      </RowOf>
      {CHANNELS.map((c) => (
        <MeasuredControl
          key={c}
          name={sentence(`common/${c}`)}
          unit="sRGB"
          value={colour[c]}
          neutral={0.5}
          min={0}
          max={1}
          step={1 / 255}
          digits={0}
          scale={255}
          isDisabled={isDisabled}
          onChange={(v) =>
            onChange(
              { [c]: v },
              valueStep(sentence(message("layering/channelOf", { name, channel: sentence(`common/${c}`).toLowerCase() })), String(Math.round(v * 255))),
            )
          }
        />
      ))}
    </>
  );
}

export const fill: ContentControls<FillContent> = {
  Controls: FillControls,
  offers: [
    {
      id: "colour",
      name: sentence("common/colour"),
      does: sentence("layering/oneColourGrainOn"),
      layer: () => ({
        name: sentence("common/colour"),
        content: { type: "fill", red: 0.5, green: 0.5, blue: 0.5, grain: 0, grainPx: 2, ramp: null },
        opacity: 0.5,
      }),
      tab: "content",
    },
  ],
};
