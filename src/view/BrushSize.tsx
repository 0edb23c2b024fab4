"use client";
import { MeasuredControl } from "../ui/components/MeasuredControl";
import { useBrush } from "./brush";

/** The diameter of the brush in hand, px of the picture. */
export function BrushSize({ name }: { name: string }) {
  const { diameterPx } = useBrush();
  const set = (v: number) => useBrush.setState({ diameterPx: v });
  return <MeasuredControl name={name} unit="px" value={diameterPx} neutral={160} min={2} max={1600} step={1} digits={0} onChange={set} onPreview={set} />;
}
