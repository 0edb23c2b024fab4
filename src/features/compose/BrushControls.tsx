"use client";
import { share } from "../../kinds/values";
import { sentence } from "../../messages/sentence";
import { Choice } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Choices } from "../../ui/components/Choices";
import { RowOf } from "../../ui/components/panels";
import { useBrush, type Brush } from "../../view/brush";
import { BrushSize } from "../../view/BrushSize";
import { useCompose } from "../../view/composeState";

const SHARES: { name: string; of: keyof Brush & ("softness" | "flow" | "opacity" | "steadiness" | "spacing"); neutral: number; min: number }[] = [
  { name: sentence("compose/softness"), of: "softness", neutral: 0.8, min: 0 },
  { name: sentence("compose/flow"), of: "flow", neutral: 0.35, min: 0.01 },
  { name: sentence("compose/opacityLimit"), of: "opacity", neutral: 1, min: 0.01 },
  { name: sentence("compose/dabsApart"), of: "spacing", neutral: 0.08, min: 0.02 },
  { name: sentence("compose/steadied"), of: "steadiness", neutral: 0, min: 0 },
];

/** What a stroke does, and the brush it is painted with. */
export function BrushControls({ softens }: { softens: boolean }) {
  const brush = useBrush();
  const { working, over } = useCompose();
  const work = (how: "reveal" | "conceal" | "move") => {
    useCompose.setState({ working: how !== "move" });
    if (how !== "move") useBrush.setState({ reveal: how === "reveal" });
  };
  return (
    <>
      <Choices
        label={sentence("compose/whatPointerDoes")}
        items={[
          { id: "reveal", label: softens ? sentence("compose/soften") : sentence("compose/reveal") },
          { id: "conceal", label: softens ? sentence("common/takeBack") : sentence("compose/conceal") },
          { id: "move", label: sentence("common/move") },
        ]}
        chosen={!working ? "move" : brush.reveal ? "reveal" : "conceal"}
        onChoose={work}
      />
      <RowOf>
        <Choice isSelected={over} onChange={(on) => useCompose.setState({ over: on, away: false })}>
          {sentence("compose/panelsGiveWayWhile")}
        </Choice>
      </RowOf>
      <BrushSize name={sentence("common/size")} />
      <MeasuredControl
        name={sentence("compose/keepsItsSide")}
        unit="ΔE"
        value={brush.edgeTolerance}
        neutral={0}
        min={0}
        max={40}
        step={0.5}
        digits={1}
        hint={brush.edgeTolerance ? sentence("compose/withinSoMuchColour") : sentence("compose/ofEdgeOff")}
        onChange={(v) => useBrush.setState({ edgeTolerance: v })}
      />
      {SHARES.map(({ name, of, neutral, min }) => (
        <MeasuredControl key={of} name={name} {...share(neutral, min)} value={brush[of]} onChange={(v) => useBrush.setState({ [of]: v })} />
      ))}
      <MeasuredControl
        name={sentence("compose/pressureCurve")}
        unit=""
        value={brush.pressureCurve}
        neutral={1}
        min={0.25}
        max={4}
        step={0.05}
        digits={2}
        hint={sentence("compose/flowPressureRaised")}
        onChange={(v) => useBrush.setState({ pressureCurve: v })}
      />
    </>
  );
}
