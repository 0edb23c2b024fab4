"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect, useId, useRef, useState, type KeyboardEvent } from "react";
import { Input, Label, NumberField, Slider, SliderThumb, SliderTrack } from "react-aria-components";
import styled from "styled-components";
import { tokens } from "../tokens/tokens";
import { TextButton } from "./Button";

export interface Proposal {
  value: number;
  /** one sentence */
  reason: string;
}

/** What a value is called, its unit, the value that does nothing, and its limits. */
export interface ValueRange {
  name: string;
  unit: string;
  neutral: number;
  min: number;
  max: number;
  step: number;
  digits: number;
  /** shown value = value × scale (for strengths in %) */
  scale?: number;
}

interface Props extends ValueRange {
  value: number;
  /** where a value lies on the track, in a scale of its own that grows with it, and back; straight where nothing is said */
  along?: (value: number) => number;
  back?: (place: number) => number;
  proposal?: Proposal | null;
  /** what it does, shown when there is no proposal */
  hint?: string;
  isDisabled?: boolean;
  onChange: (value: number) => void;
  /** while the person drags */
  onPreview?: (value: number) => void;
}

const Frame = styled.div`
  padding: 3px 0 4px;
  border-bottom: 1px solid ${tokens.line};
`;
const Row = styled.div`
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 8px;
`;
const Name = styled(Label)`
  font-size: ${tokens.size.text};
`;
const Value = styled(NumberField)`
  display: flex;
  align-items: baseline;
  gap: 3px;
  font-weight: 600;
`;
const Field = styled(Input)`
  width: 56px;
  padding: 1px 3px;
  text-align: right;
  border: 1px solid transparent;
  background: transparent;
  font-weight: 600;
  &[data-hovered],
  &[data-focused] {
    border-color: ${tokens.lineStrong};
    background: ${tokens.field};
  }
`;
const Unit = styled.span`
  min-width: 34px;
  font-weight: 400;
`;
const Track = styled(SliderTrack)`
  position: relative;
  height: calc(16px + 2 * ${tokens.hit.beyond});
  /* reaches beyond what is drawn, which stays where it is */
  border: 0 solid transparent;
  border-block-width: ${tokens.hit.beyond};
  margin: 0 5px;
  &::before {
    content: "";
    position: absolute;
    left: -5px;
    right: -5px;
    top: 7px;
    height: 2px;
    background: ${tokens.line};
  }
`;
const Bar = styled.div`
  position: absolute;
  top: 6px;
  height: 4px;
  background: ${tokens.chosen};
`;
const Notch = styled.div`
  position: absolute;
  top: 0;
  width: 0;
  height: 0;
  margin-left: -4px;
  border-left: 4px solid transparent;
  border-right: 4px solid transparent;
  border-top: 7px solid ${tokens.action};
`;
const Thumb = styled(SliderThumb)`
  top: 8px;
  width: 7px;
  height: 14px;
  background: ${tokens.chosen};
  &[data-focus-visible] {
    outline: 2px solid ${tokens.focus};
    outline-offset: 2px;
  }
`;
const Reason = styled.p`
  display: flex;
  justify-content: space-between;
  gap: 8px;
  font-size: ${tokens.size.small};
  color: ${tokens.textSoft};
`;
const Acts = styled.span`
  display: flex;
  gap: 8px;
  white-space: nowrap;
`;

/** A row of key presses that follow each other this closely is one change, ms. */
const KEYS_PAUSE_MS = 400;
/** Keys that move a value. */
const MOVING_KEYS = ["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "PageUp", "PageDown", "Home", "End", "Shift"];

/** Takes a row of key presses for one change, told when it is over; what the pointer set is told at once. */
function useKeyPresses(tell: (value: number) => void) {
  const byKey = useRef(false);
  const waiting = useRef<{ timer: ReturnType<typeof setTimeout>; now: () => void } | null>(null);
  const flush = () => {
    const last = waiting.current;
    if (!last) return;
    clearTimeout(last.timer);
    waiting.current = null;
    last.now();
  };
  // a control that is gone may belong to what is no longer open: it is left first, which tells what is waiting
  useEffect(() => () => clearTimeout(waiting.current?.timer), []);
  const end = (value: number) => {
    if (!byKey.current) return tell(value);
    if (waiting.current) clearTimeout(waiting.current.timer);
    const now = () => tell(value);
    waiting.current = { now, timer: setTimeout(flush, KEYS_PAUSE_MS) };
  };
  const watched = {
    onKeyDownCapture: ({ key }: KeyboardEvent) => {
      byKey.current = true;
      // any other key acts on what is seen: undo takes back what was set
      if (!MOVING_KEYS.includes(key)) flush();
    },
    onPointerDownCapture: () => void (byKey.current = false),
  };
  return { end, flush, watched };
}

const same = (v: number) => v;
/** Steps of a track with a scale of its own. */
const STEPS_ALONG = 400;

/** The one control for every value: name, value with its unit, track, the notch of the proposal, its reason, Take and Reset. */
export function MeasuredControl(props: Props) {
  const { name, unit, value, neutral, min, max, step, digits, scale = 1, proposal, hint, isDisabled, onPreview, along = same, back = same } = props;
  const id = useId();
  const [dragged, setDragged] = useState<number | null>(null);
  // while what was asked for is being computed the control shows it, or leaving the field would ask for the old value again
  const [asked, setAsked] = useState<number | null>(null);
  const [wasDisabled, setWasDisabled] = useState(isDisabled);
  if (wasDisabled !== isDisabled) {
    setWasDisabled(isDisabled);
    if (!isDisabled) setAsked(null);
  }
  const shown = dragged ?? (isDisabled ? asked : null) ?? value;
  const inField = (v: number) => Math.round(v * scale * 10 ** digits) / 10 ** digits;
  const onChange = (v: number) => {
    setAsked(v);
    props.onChange(v);
  };
  const keys = useKeyPresses((v) => {
    setDragged(null);
    onChange(v);
  });
  const [start, end] = [along(min), along(max)];
  const share = (v: number) => (100 * (along(Math.min(max, Math.max(min, v))) - start)) / (end - start);
  const [from, to] = [share(Math.min(shown, neutral)), share(Math.max(shown, neutral))];
  const near = proposal && Math.abs(proposal.value - shown) < step;
  return (
    <Frame role="group" aria-labelledby={id} onBlur={keys.flush} {...keys.watched}>
      <Slider
        value={along(shown)}
        minValue={start}
        maxValue={end}
        step={along === same ? step : (end - start) / STEPS_ALONG}
        isDisabled={isDisabled}
        onChange={(v) => {
          setDragged(back(v as number));
          onPreview?.(back(v as number));
        }}
        onChangeEnd={(v) => keys.end(back(v as number))}
      >
        <Row>
          <Name id={id}>{name}</Name>
          <Value
            aria-label={[name, unit].filter(Boolean).join(", ")}
            value={inField(shown)}
            minValue={min * scale}
            maxValue={max * scale}
            step={step * scale}
            formatOptions={{ minimumFractionDigits: digits, maximumFractionDigits: digits, signDisplay: min < 0 ? "exceptZero" : "auto", useGrouping: false }}
            isDisabled={isDisabled}
            // a field that is switched off while it hands its value over hands over the old one after it
            onChange={(v) => Number.isFinite(v) && v !== inField(value) && onChange(v / scale)}
          >
            <Field />
            <Unit>{unit}</Unit>
          </Value>
        </Row>
        <Track>
          <Bar style={{ left: `${from}%`, width: `${to - from}%` }} />
          {proposal && <Notch style={{ left: `${share(proposal.value)}%` }} />}
          <Thumb aria-label={name} />
        </Track>
      </Slider>
      {(proposal || hint || shown !== neutral) && (
        <Reason>
          <span>{proposal ? proposal.reason : hint}</span>
          <Acts>
            {proposal && !near && (
              <TextButton isDisabled={isDisabled} onPress={() => onChange(proposal.value)} aria-label={sentence(message("view/takeProposalName", { name }))}>
                {sentence("view/take")}
              </TextButton>
            )}
            {shown !== neutral && (
              <TextButton isDisabled={isDisabled} onPress={() => onChange(neutral)} aria-label={sentence(message("view/resetName", { name }))}>
                {sentence("common/reset")}
              </TextButton>
            )}
          </Acts>
        </Reason>
      )}
    </Frame>
  );
}
