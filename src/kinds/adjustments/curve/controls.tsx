"use client";
import { sentence } from "../../../messages/sentence";
import { message, type Telling } from "../../../messages/message";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import styled from "styled-components";
import { curveResponse, LOG_CURVE_EV, MOST_NODES } from "../../../core/adjust/tone";
import { Button } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { RowOf, Soft } from "../../../ui/components/panels";
import { Select } from "../../../ui/components/Select";
import { tokens } from "../../../ui/tokens/tokens";
import type { AdjustmentControls, ControlsProps } from "../controlling";

const SIDE = 240;
/** Room around the curve, so that nodes at the ends are whole. */
const EDGE = 6;
const STEPS = 120;
/** A pointer this near to a node takes hold of it, px. */
const HOLD = 14;
const NUDGE = 0.005;

const Field = styled.svg`
  display: block;
  width: 100%;
  aspect-ratio: 1;
  margin: 6px 0;
  background: ${tokens.field};
  border: 1px solid ${tokens.lineStrong};
  touch-action: none;
`;

type Node = readonly [number, number];
const held = (v: number) => Math.min(1, Math.max(0, Math.round(v * 1000) / 1000));
const nodesOf = (values: Record<string, number>): Node[] => Array.from({ length: values.nodes }, (_, i) => [values[`x${i}`], values[`y${i}`]] as const);
const valuesOfNodes = (nodes: Node[]): Record<string, number> =>
  Object.fromEntries([["nodes", nodes.length], ...nodes.flatMap(([x, y], i) => [[`x${i}`, x] as const, [`y${i}`, y] as const])]);

/** A curve with nodes of one's own: a press on the field sets one, dragging and the arrow keys move it. */
function CurveEditor({ values, isDisabled, set }: ControlsProps) {
  const field = useRef<SVGSVGElement>(null);
  const [chosen, setChosen] = useState(0);
  const [dragged, setDragged] = useState<Node[] | null>(null);
  const nodes = dragged ?? nodesOf(values);
  const node = nodes[Math.min(chosen, nodes.length - 1)];
  const keep = (next: Node[], label: Telling) => set(valuesOfNodes(next), label);
  const moved = (to: Node) => nodes.map((n, i) => (i === chosen ? to : n));

  const at = (e: PointerEvent): Node => {
    const box = field.current!.getBoundingClientRect();
    const along = (share: number) => held((share * (SIDE + 2 * EDGE) - EDGE) / SIDE);
    return [along((e.clientX - box.left) / box.width), along((box.bottom - e.clientY) / box.height)];
  };
  const down = (e: PointerEvent) => {
    if (isDisabled) return;
    field.current!.setPointerCapture(e.pointerId);
    const p = at(e);
    const near = nodes.findIndex(([x, y]) => SIDE * Math.hypot(x - p[0], y - p[1]) < HOLD);
    if (near >= 0) {
      setChosen(near);
      setDragged(nodes);
    } else if (nodes.length < MOST_NODES) {
      setChosen(nodes.length);
      setDragged([...nodes, p]);
    }
  };
  const move = (e: PointerEvent) => dragged && setDragged(moved(at(e)));
  const up = () => {
    if (!dragged) return;
    keep(dragged, dragged.length > values.nodes ? "step.curveNodeSet" : "step.curveNodeMoved");
    setDragged(null);
  };
  const remove = () => {
    if (nodes.length <= 2) return;
    keep(
      nodes.filter((_, i) => i !== chosen),
      "step.curveNodeRemoved",
    );
    setChosen(0);
  };
  const key = (e: KeyboardEvent) => {
    const by = NUDGE * (e.shiftKey ? 5 : 1);
    const [dx, dy] = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }[e.key] ?? [0, 0];
    if (isDisabled || (dx === 0 && dy === 0 && e.key !== "Delete")) return;
    e.preventDefault();
    e.stopPropagation();
    if (e.key === "Delete") remove();
    else keep(moved([held(node[0] + dx), held(node[1] + dy)]), "step.curveNodeMoved");
  };

  const response = curveResponse({ ...values, ...valuesOfNodes(nodes) });
  const line = Array.from({ length: STEPS + 1 }, (_, i) => `${(SIDE * i) / STEPS},${SIDE * (1 - held(response(i / STEPS)))}`).join(" ");
  const word = (v: number) => (values.log ? `${(LOG_CURVE_EV[0] + v * (LOG_CURVE_EV[1] - LOG_CURVE_EV[0])).toFixed(2)} EV` : v.toFixed(3));
  return (
    <>
      <RowOf style={{ marginTop: 4 }}>
        <Select
          label={sentence("adjusting/channel")}
          items={[sentence("adjusting/all"), sentence("common/red"), sentence("common/green"), sentence("common/blue")].map((label, i) => ({
            id: String(i),
            label,
          }))}
          chosen={String(values.channel)}
          isDisabled={isDisabled}
          onChoose={(c) => set({ channel: Number(c) }, "step.curveChannel")}
        />
        <Select
          label={sentence("common/scale")}
          items={[
            { id: "0", label: sentence("adjusting/encoded") },
            { id: "1", label: sentence("adjusting/logLight") },
          ]}
          chosen={String(values.log)}
          isDisabled={isDisabled}
          onChoose={(c) => set({ log: Number(c) }, c === "1" ? "step.curveLog" : "step.curveEncoded")}
        />
      </RowOf>
      <Field
        ref={field}
        viewBox={`${-EDGE} ${-EDGE} ${SIDE + 2 * EDGE} ${SIDE + 2 * EDGE}`}
        role="application"
        tabIndex={0}
        aria-label={sentence(
          message("adjusting/curveNodesNodeLeads", { count: nodes.length, chosen: chosen + 1, value: word(node[0]), value2: word(node[1]) }),
        )}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={() => setDragged(null)}
        onKeyDown={key}
      >
        {[0.25, 0.5, 0.75].map((v) => (
          <path key={v} d={`M${SIDE * v},0V${SIDE}M0,${SIDE * v}H${SIDE}`} stroke={tokens.line} />
        ))}
        <path d={`M0,${SIDE}L${SIDE},0`} stroke={tokens.line} />
        <polyline points={line} fill="none" stroke={tokens.text} strokeWidth={1.5} />
        {nodes.map(([x, y], i) => (
          <rect key={i} x={SIDE * x - 4} y={SIDE * (1 - y) - 4} width={8} height={8} fill={i === chosen ? tokens.chosen : tokens.field} stroke={tokens.text} />
        ))}
      </Field>
      <RowOf style={{ marginTop: 0 }}>
        <Button isDisabled={isDisabled} onPress={() => setChosen((chosen + 1) % nodes.length)}>
          {sentence("adjusting/nextNode")}
        </Button>
        <Button isDisabled={isDisabled || nodes.length <= 2} onPress={remove}>
          {sentence("adjusting/removeNode")}
        </Button>
      </RowOf>
      {(["from", "to"] as const).map((end, c) => (
        <MeasuredControl
          key={end}
          name={sentence(message("adjusting/nodeChosen", { chosen: chosen + 1, end }))}
          unit=""
          value={node[c]}
          neutral={node[0]}
          min={0}
          max={1}
          step={0.005}
          digits={3}
          isDisabled={isDisabled}
          onChange={(v) =>
            keep(moved(c === 0 ? [held(v), node[1]] : [node[0], held(v)]), message("step.curveNode", { number: chosen + 1, end, value: v.toFixed(3) }))
          }
        />
      ))}
      <Soft>
        {sentence(
          message("adjusting/pressOnFieldSet", {
            value: values.log
              ? sentence(message("adjusting/fromEvAgainstWhite", { value: LOG_CURVE_EV[0], value2: LOG_CURVE_EV[1] }))
              : sentence("adjusting/encodedValuesBlackWhite"),
          }),
        )}
      </Soft>
    </>
  );
}

export const curve: AdjustmentControls = { Controls: CurveEditor };
