"use client";
import { message } from "../messages/message";
import { sentence } from "../messages/sentence";
import { useRef, useSyncExternalStore, type ReactNode } from "react";
import styled from "styled-components";
import { openFindingsOf } from "../document/finding";
import { documentSize } from "../document/selectors";
import { describeStage } from "../session/stages";
import { useSession, usePartsOf } from "../session/store";
import { Button, PlainButton } from "../ui/components/Button";
import { rem, tokens } from "../ui/tokens/tokens";
import { foldPanel, PANEL_NAMES, PANEL_STEP, usePanels, usualWidth, widenPanel, type PanelSide } from "./panels";

/** Height of the bar above the picture; what lies over the picture leaves it and the readout free. */
const BAR = 36;
/** Pictures wider than this, width to height, have ledger and bench beneath them. */
const WIDE = 2;

/** Panels beside the picture, or beneath one that is wide: then they take what it leaves, within limits. */
const Body = styled.div<{ $wide: number | null }>`
  position: relative;
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template: ${({ $wide }) =>
    $wide === null
      ? `"ledger middle bench" minmax(0, 1fr) / auto minmax(0, 1fr) auto`
      : `"middle middle" minmax(0, 1fr) "ledger bench" fit-content(clamp(190px, 100% - 100vw / ${$wide.toFixed(3)} - ${BAR + tokens.layout.readout + 10}px, 50%)) / minmax(0, 6fr) minmax(0, 5fr)`};
`;
const Side = styled.aside<{ $side: PanelSide; $width: number | null; $over?: boolean }>`
  grid-area: ${({ $side }) => $side};
  ${({ $over, $side }) => ($over ? `position: absolute; top: ${BAR}px; bottom: ${BAR}px; ${$side === "ledger" ? "left" : "right"}: 0; z-index: 2;` : "position: relative;")}
  ${({ $width, $side }) => ($width === null ? `border-top: 1px solid ${tokens.lineStrong};` : `width: min(${rem($width)}, max(${rem(tokens.layout[$side])}, 25vw), 46vw);`)}
  min-height: 0;
  display: flex;
  flex-direction: column;
  background: ${tokens.panel};
  ${({ $side }) => ($side === "ledger" ? "border-right" : "border-left")}: 1px solid ${tokens.lineStrong};
`;
const Scrolled = styled.div`
  flex: 1;
  min-height: 0;
  overflow-y: auto;
`;
/** Its inner edge, by which a panel is made wider. */
const Grip = styled.div<{ $side: PanelSide }>`
  position: absolute;
  top: 0;
  bottom: 0;
  ${({ $side }) => ($side === "ledger" ? "right" : "left")}: -4px;
  width: calc(8px + ${tokens.hit.beyond});
  z-index: 3;
  cursor: ew-resize;
  touch-action: none;
`;
const Foot = styled.div<{ $side: PanelSide }>`
  flex: none;
  display: flex;
  justify-content: ${({ $side }) => ($side === "ledger" ? "flex-end" : "flex-start")};
  padding: 1px 8px;
  border-top: 1px solid ${tokens.line};
  font-size: ${tokens.size.small};
`;
/** A folded panel: its name and what its stage comes to, up the side. */
const Strip = styled.button<{ $side: PanelSide; $beneath: boolean }>`
  grid-area: ${({ $side }) => $side};
  ${({ $beneath }) => ($beneath ? `height: max(${tokens.layout.strip}px, ${tokens.hit.target});` : `width: max(${tokens.layout.strip}px, ${tokens.hit.target}); writing-mode: vertical-rl;`)}
  display: flex;
  align-items: center;
  gap: 14px;
  padding: ${({ $beneath }) => ($beneath ? "0 12px" : "12px 0")};
  border: 0 solid ${tokens.lineStrong};
  ${({ $side, $beneath }) => ($beneath ? "border-top" : $side === "ledger" ? "border-right" : "border-left")}-width: 1px;
  background: ${tokens.panel};
  font-family: ${tokens.condensed};
  text-align: left;
  overflow: hidden;
  white-space: nowrap;
  &:hover b {
    text-decoration: underline;
  }
  &:focus-visible {
    outline-offset: -3px;
  }
`;
const Middle = styled.main`
  grid-area: middle;
  min-width: 0;
  min-height: 0;
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
  @media (max-width: 75em) {
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
  /** what is shown is not the picture, so its panels stay beside it however wide that is */
  beside?: boolean;
}

/** Ledger, picture, bench: the frame of every stage. */
export function StageLayout(props: LayoutProps) {
  const stage = useSession((s) => s.stage);
  const size = useSession((s) => documentSize(s.records));
  const aspect = size && size.width / size.height;
  // frames as they were shot are looked at one by one
  const wide = stage !== "gather" && aspect && aspect > WIDE && !props.over && !props.beside ? aspect : null;
  const away = props.over?.away === true;
  const panel = (side: PanelSide, content: ReactNode) =>
    !away && <PanelFrame side={side} content={content} beneath={wide !== null} over={Boolean(props.over)} />;
  return (
    <Body $wide={wide}>
      {away && (
        <>
          <Edge $left onPointerEnter={(e) => e.buttons === 0 && props.over?.back()} />
          <Edge onPointerEnter={(e) => e.buttons === 0 && props.over?.back()} />
        </>
      )}
      {panel("ledger", props.ledger)}
      <Middle>
        {props.bar && (
          <Bar role="toolbar" aria-label={sentence("view/views")}>
            {props.bar}
          </Bar>
        )}
        <BusyLine />
        {props.children}
        {props.readout}
      </Middle>
      {panel("bench", props.bench)}
    </Body>
  );
}

function onResize(told: () => void): () => void {
  window.addEventListener("resize", told);
  return () => window.removeEventListener("resize", told);
}

/** A panel with what it is folded and made wider by, or the strip it folds to. */
function PanelFrame({ side, content, beneath, over }: { side: PanelSide; content: ReactNode; beneath: boolean; over: boolean }) {
  const { folded, width: given } = usePanels((p) => p[side]);
  const windowWidth = useSyncExternalStore(onResize, () => window.innerWidth);
  const width = given ?? usualWidth(side, windowWidth);
  const name = PANEL_NAMES[side];
  const [open, close] = beneath ? ["▴", "▾"] : side === "ledger" ? ["▸", "◂"] : ["◂", "▸"];
  if (folded) {
    return (
      <Strip
        $side={side}
        $beneath={beneath}
        aria-expanded={false}
        aria-label={sentence(message("view/unfoldTheName", { name: name.toLowerCase() }))}
        onClick={() => foldPanel(side, false)}
      >
        <span aria-hidden>{open}</span>
        <b>{name}</b>
        {side === "ledger" && <StageFigure />}
      </Strip>
    );
  }
  return (
    <Side $side={side} $width={beneath ? null : width} $over={over} aria-label={name}>
      <Scrolled>{content}</Scrolled>
      <Foot $side={side}>
        <PlainButton aria-expanded aria-label={sentence(message("view/foldTheName", { name: name.toLowerCase() }))} onPress={() => foldPanel(side, true)}>
          {side === "ledger" ? sentence(message("view/foldClose", { close })) : sentence(message("view/fold", { close }))}
        </PlainButton>
      </Foot>
      {!beneath && <PanelGrip side={side} width={width} />}
    </Side>
  );
}

/** What the open stage comes to, as the path says it. */
function StageFigure() {
  const { stage, records, findings, lastExportAt } = usePartsOf("stage", "records", "findings", "lastExportAt");
  const openFindings = openFindingsOf(records, findings).length;
  const told = { records, oddities: 0, findings, openFindings, working: null, lastExportAt };
  return <span>{sentence(describeStage(stage, told).figure)}</span>;
}

function PanelGrip({ side, width }: { side: PanelSide; width: number }) {
  const outwards = side === "ledger" ? 1 : -1;
  const held = useRef<{ x: number; width: number } | null>(null);
  return (
    <Grip
      $side={side}
      role="separator"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label={sentence(message("view/widthOfThe", { value: PANEL_NAMES[side].toLowerCase() }))}
      aria-valuenow={width}
      onPointerDown={(e) => {
        held.current = { x: e.clientX, width };
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => held.current && widenPanel(side, held.current.width + outwards * (e.clientX - held.current.x), window.innerWidth)}
      onPointerUp={() => (held.current = null)}
      onPointerCancel={() => (held.current = null)}
      onKeyDown={(e) => {
        const by = e.key === "ArrowRight" ? PANEL_STEP : e.key === "ArrowLeft" ? -PANEL_STEP : 0;
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        widenPanel(side, width + outwards * by, window.innerWidth);
      }}
    />
  );
}

/** What is being done, how much of it, and how to stop it. */
export function BusyLine() {
  const busy = useSession((s) => s.busy);
  if (!busy) return null;
  const share = Math.round(busy.share * 100);
  return (
    <Progress role="status">
      <span>{sentence(busy.what)}</span>
      <ProgressTrack>
        <div style={{ width: `${share}%` }} />
      </ProgressTrack>
      <span>{share}&thinsp;%</span>
      <Button onPress={busy.stop}>{sentence("view/stop")}</Button>
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
