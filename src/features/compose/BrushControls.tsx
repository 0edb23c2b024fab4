"use client";
import { Choice } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { RowOf } from "../../ui/components/panels";
import { useBrush, type Brush } from "../../view/brush";
import { BrushSize } from "../../view/BrushSize";
import { useCompose } from "./composeState";

const SHARES: { name: string; of: keyof Brush & ("softness" | "flow" | "opacity"); neutral: number; min: number }[] = [
  { name: "Softness", of: "softness", neutral: 0.8, min: 0 },
  { name: "Flow", of: "flow", neutral: 0.35, min: 0.01 },
  { name: "Most a stroke does", of: "opacity", neutral: 1, min: 0.01 },
];

/** What a stroke does, and the brush it is painted with. */
export function BrushControls() {
  const brush = useBrush();
  const working = useCompose((s) => s.working);
  const paint = (reveal: boolean) => {
    useCompose.setState({ working: true });
    useBrush.setState({ reveal });
  };
  return (
    <>
      <RowOf>
        <Choice isSelected={working && brush.reveal} onChange={() => paint(true)}>
          Reveal
        </Choice>
        <Choice isSelected={working && !brush.reveal} onChange={() => paint(false)}>
          Conceal
        </Choice>
        <Choice isSelected={!working} onChange={() => useCompose.setState({ working: false })}>
          Move
        </Choice>
      </RowOf>
      <BrushSize name="Size" />
      {SHARES.map(({ name, of, neutral, min }) => (
        <MeasuredControl
          key={of}
          name={name}
          unit="%"
          value={brush[of]}
          neutral={neutral}
          min={min}
          max={1}
          step={0.01}
          digits={0}
          scale={100}
          onChange={(v) => useBrush.setState({ [of]: v })}
        />
      ))}
    </>
  );
}
