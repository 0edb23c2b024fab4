"use client";
import { sentence, title } from "../messages/sentence";
import { useMemo } from "react";
import styled from "styled-components";
import { openFindingsOf } from "../document/finding";
import { summarizeSet } from "../document/sets";
import { setStage } from "../session/openJob";
import { usePartsOf } from "../session/store";
import { describeStage, STAGES } from "../session/stages";
import { StateGlyph } from "../ui/components/StateGlyph";
import { rem, tokens } from "../ui/tokens/tokens";
import { usePanels } from "../view/panels";

const Path = styled.nav<{ $thin: boolean }>`
  height: ${({ $thin }) => ($thin ? `max(${rem(tokens.layout.pathThin)}, ${tokens.hit.target})` : rem(tokens.layout.path))};
  flex: none;
  display: grid;
  grid-template-columns: repeat(8, 1fr);
  border-bottom: 1px solid ${tokens.lineStrong};
  background: ${tokens.panel};
  ${tokens.narrow} {
    height: auto;
    grid-template-columns: repeat(4, 1fr);
    grid-auto-rows: max(${rem(tokens.layout.pathThin)}, ${tokens.hit.target});
  }
`;
const Segment = styled.button<{ $open: boolean }>`
  display: grid;
  grid-template-columns: auto 1fr;
  align-items: center;
  column-gap: 8px;
  padding: 4px 8px 3px 12px;
  border: 0;
  border-right: 1px solid ${tokens.line};
  border-bottom: 3px solid ${({ $open }) => ($open ? tokens.chosen : "transparent")};
  background: ${({ $open }) => ($open ? tokens.field : "transparent")};
  text-align: left;
  overflow: hidden;
  b {
    font-size: ${tokens.size.large};
    font-weight: 600;
    line-height: 1.2;
  }
  span {
    grid-column: 2;
    font-family: ${tokens.condensed};
    font-size: ${tokens.size.text};
    line-height: 1.2;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    ${tokens.narrow} {
      display: none;
    }
  }
  &:hover b {
    text-decoration: underline;
  }
  &:focus-visible {
    outline-offset: -3px;
  }
`;
/** The eight stages, each with one live figure. */
export function PathRow() {
  const { records, stage, findings, busyStage, lastExportAt } = usePartsOf("records", "stage", "findings", "busyStage", "lastExportAt");
  const summary = useMemo(() => summarizeSet(records), [records]);
  const oddities = summary.oddities.length + summary.differences.length;
  const openFindings = openFindingsOf(records, findings).length;
  // the picture has the window to itself: the path keeps its names
  const thin = usePanels((p) => p.ledger.folded && p.bench.folded);
  return (
    <Path aria-label={sentence("shell/thePath")} $thin={thin}>
      {STAGES.map((s) => {
        const { state, figure } = describeStage(s, { records, oddities, findings, openFindings, working: busyStage, lastExportAt });
        return (
          <Segment
            key={s}
            $open={s === stage}
            aria-current={s === stage ? "step" : undefined}
            aria-label={`${title(`stage.${s}`)}: ${sentence(figure)}, ${sentence(`state.${state}`)}`}
            onClick={() => setStage(s)}
          >
            <StateGlyph state={state} />
            <b>{title(`stage.${s}`)}</b>
            {!thin && <span>{sentence(figure)}</span>}
          </Segment>
        );
      })}
    </Path>
  );
}
