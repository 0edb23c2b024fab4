import type { Rectangle } from "../core/geometry/rectangle";
import { sentence } from "../messages/sentence";
import { MeasuredControl } from "../ui/components/MeasuredControl";

const EDGES = [
  { of: "x", name: sentence("cutting/left"), along: "width" },
  { of: "y", name: sentence("cutting/top"), along: "height" },
  { of: "width", name: sentence("cutting/width"), along: "width" },
  { of: "height", name: sentence("cutting/height"), along: "height" },
] as const;

interface Props {
  box: Rectangle;
  /** of what it lies in */
  size: { width: number; height: number };
  /** shortest side, px */
  least: number;
  isDisabled: boolean;
  onChange: (box: Rectangle) => void;
}

/** A box by numbers, for whoever works without a pointer. */
export function BoxByNumbers({ box, size, least, isDisabled, onChange }: Props) {
  const set = (of: keyof Rectangle, v: number) => {
    const x = Math.min(of === "x" ? v : box.x, size.width - least);
    const y = Math.min(of === "y" ? v : box.y, size.height - least);
    const width = Math.min(size.width - x, Math.max(least, of === "width" ? v : box.width));
    const height = Math.min(size.height - y, Math.max(least, of === "height" ? v : box.height));
    onChange({ x, y, width, height });
  };
  return EDGES.map(({ of, name, along }) => (
    <MeasuredControl
      key={of}
      name={name}
      unit="px"
      value={box[of]}
      neutral={of === "x" || of === "y" ? 0 : size[along]}
      min={0}
      max={size[along]}
      step={1}
      digits={0}
      isDisabled={isDisabled}
      onChange={(v) => set(of, Math.round(v))}
    />
  ));
}
