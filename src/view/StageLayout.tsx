"use client";
import type { ReactNode } from "react";
import styled from "styled-components";
import { useSession } from "../session/store";
import { Button } from "../ui/components/Button";
import { tokens } from "../ui/tokens/tokens";

const Body = styled.div`
  position: relative;
  flex: 1;
  min-height: 0;
  display: flex;
`;
/** Height of the bar above the picture; what lies over the picture leaves it and the readout free. */
const BAR = 36;
const Side = styled.aside<{ $width: number; $left?: boolean; $over?: boolean }>`
  ${({ $over, $left }) => $over && `position: absolute; top: ${BAR}px; bottom: ${BAR}px; ${$left ? "left" : "right"}: 0; z-index: 2;`}
  width: ${({ $width }) => $width}px;
  flex: none;
  display: flex;
  flex-direction: column;
  overflow-y: auto;
  background: ${tokens.panel};
  ${({ $left }) => ($left ? "border-right" : "border-left")}: 1px solid ${tokens.lineStrong};
`;
const Middle = styled.main`
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  background: ${tokens.panel};
`;
/** Along an edge of the picture: brings the panels back that were folded away. */
const Edge = styled.div<{ $left?: boolean }>`
  position: absolute;
  top: ${BAR}px;
  bottom: ${BAR}px;
  ${({ $left }) => ($left ? "left" : "right")}: 0;
  z-index: 2;
  width: 10px;
  background: ${tokens.panel};
  border: 0 solid ${tokens.lineStrong};
  ${({ $left }) => ($left ? "border-right-width" : "border-left-width")}: 1px;
`;
/** On a narrow screen what has no room goes to a second line, whole. */
const Bar = styled.div`
  display: flex;
  @media (max-width: 1200px) {
    flex-wrap: wrap;
  }
  align-items: center;
  gap: 6px;
  min-height: ${BAR}px;
  padding: 4px 10px;
  border-bottom: 1px solid ${tokens.line};
`;
const Progress = styled.div`
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 5px 12px;
  border-bottom: 1px solid ${tokens.line};
  background: ${tokens.field};
`;
const ProgressTrack = styled.div`
  flex: 1;
  height: 4px;
  background: ${tokens.line};
  div {
    height: 100%;
    background: ${tokens.chosen};
  }
`;

interface LayoutProps {
  ledger: ReactNode;
  bench: ReactNode;
  bar?: ReactNode;
  readout?: ReactNode;
  children: ReactNode;
  /** panels lie over the picture and are away while it is worked on; their edges bring them back */
  over?: { away: boolean; back: () => void } | null;
}

/** Ledger, picture, bench: the frame of every stage. */
export function StageLayout(props: LayoutProps) {
  const folded = useSession((s) => s.panelsFolded) || props.over?.away === true;
  const over = Boolean(props.over);
  return (
    <Body>
      {props.over?.away && (
        <>
          <Edge $left onPointerEnter={(e) => e.buttons === 0 && props.over?.back()} />
          <Edge onPointerEnter={(e) => e.buttons === 0 && props.over?.back()} />
        </>
      )}
      {!folded && (
        <Side $width={tokens.layout.ledger} $left $over={over} aria-label="Ledger">
          {props.ledger}
        </Side>
      )}
      <Middle>
        {props.bar && (
          <Bar role="toolbar" aria-label="Views">
            {props.bar}
          </Bar>
        )}
        <BusyLine />
        {props.children}
        {props.readout}
      </Middle>
      {!folded && (
        <Side $width={tokens.layout.bench} $over={over} aria-label="Bench">
          {props.bench}
        </Side>
      )}
    </Body>
  );
}

/** What is being done, how much of it, and how to stop it. */
export function BusyLine() {
  const busy = useSession((s) => s.busy);
  if (!busy) return null;
  const share = Math.round(busy.share * 100);
  return (
    <Progress role="status">
      <span>{busy.what}</span>
      <ProgressTrack>
        <div style={{ width: `${share}%` }} />
      </ProgressTrack>
      <span>{share}&thinsp;%</span>
      <Button onPress={busy.stop}>Stop</Button>
    </Progress>
  );
}

const EmptyFrame = styled.div`
  flex: 1;
  display: flex;
  align-items: center;
  justify-content: center;
  background: #777777;
  > div {
    width: 400px;
    padding: 20px 24px 22px;
    background: ${tokens.panel};
    border: 1px solid ${tokens.lineStrong};
  }
  p {
    margin: 6px 0 14px;
  }
`;

/** One sentence and one action. */
export function EmptyPicture({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <EmptyFrame>
      <div>
        <h2 style={{ fontSize: tokens.size.large, fontWeight: 600 }}>{title}</h2>
        <p>{children}</p>
        {action}
      </div>
    </EmptyFrame>
  );
}
