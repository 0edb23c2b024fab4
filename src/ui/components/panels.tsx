"use client";
import styled, { css } from "styled-components";
import { tokens } from "../tokens/tokens";

/** A block of the bench or the ledger. */
export const Section = styled.section`
  padding: 10px 14px 12px;
  border-bottom: 1px solid ${tokens.line};
`;
export const Heading = styled.h2`
  font-size: ${tokens.size.large};
  font-weight: 600;
  line-height: 1.3;
`;
export const Soft = styled.p`
  font-size: ${tokens.size.small};
  color: ${tokens.textSoft};
`;
export const RowOf = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  margin-top: 8px;
`;

/** Lines of figures with a word under them. */
export const ledgerLines = css`
  width: 100%;
  border-collapse: collapse;
  font-family: ${tokens.condensed};
  font-size: ${tokens.size.text};
  th {
    text-align: left;
    font-weight: 400;
    font-size: ${tokens.size.small};
    color: ${tokens.textSoft};
    padding: 4px 3px 3px;
    white-space: nowrap;
    border-bottom: 1px solid ${tokens.lineStrong};
    vertical-align: bottom;
  }
  td {
    padding: 5px 3px 4px;
    border-bottom: 1px solid ${tokens.line};
    vertical-align: top;
    line-height: 1.25;
  }
  th:first-child,
  td:first-child {
    padding-left: 14px;
  }
  th:last-child,
  td:last-child {
    padding-right: 6px;
  }
`;

/** Figures to be read; where rows are chosen it is a `Ledger`. */
export const Table = styled.table`
  ${ledgerLines}
  tr[aria-current="true"] {
    background: ${tokens.chosen};
    color: ${tokens.onChosen};
  }
`;

/** A figure with a word under it. @param breaks where the word may go on in another line when there is no room */
export function Figure({ value, word, breaks }: { value: string; word?: string; breaks?: boolean }) {
  return (
    <>
      <Strong>{value}</Strong>
      {word && <Word $breaks={breaks}>{word}</Word>}
    </>
  );
}
const Strong = styled.span`
  display: block;
  font-weight: 600;
  white-space: nowrap;
`;
const Word = styled.span<{ $breaks?: boolean }>`
  display: block;
  font-size: ${tokens.size.small};
  white-space: ${({ $breaks }) => ($breaks ? "normal" : "nowrap")};
`;

export const Card = styled.div<{ $open?: boolean }>`
  margin: 8px 0;
  padding: 8px 10px;
  border: 1px solid ${tokens.line};
  border-left: 4px solid ${({ $open }) => ($open ? tokens.finding : tokens.lineStrong)};
  background: ${tokens.field};
  &[aria-current="true"] {
    border-color: ${tokens.text};
  }
`;

export const Facts = styled.dl`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 12px;
  font-family: ${tokens.condensed};
  dt {
    color: ${tokens.textSoft};
  }
  dd {
    font-weight: 600;
    text-align: right;
  }
`;

/** Facts that are figures, which never break. */
export const Figures = styled(Facts)`
  grid-template-columns: 1fr auto;
  dd {
    white-space: nowrap;
  }
`;

/** The head of a column whose cells have two lines. */
export function TwoLines({ words }: { words: [string, string] }) {
  return (
    <>
      {words[0]}
      <br />
      {words[1]}
    </>
  );
}
