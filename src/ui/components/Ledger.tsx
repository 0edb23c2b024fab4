"use client";
import type { CSSProperties, ReactNode } from "react";
import { Cell, Column, Row, Table, TableBody, TableHeader, type DragAndDropHooks } from "react-aria-components";
import styled from "styled-components";
import { tokens } from "../tokens/tokens";
import { ledgerLines } from "./panels";

const Frame = styled(Table)<{ $headless: boolean }>`
  ${ledgerLines}
  outline: none;
  thead {
    ${({ $headless }) => $headless && "display: none;"}
  }
  .react-aria-DropIndicator[data-drop-target] {
    outline: 1px solid ${tokens.text};
  }
  [role="row"][data-drop-target] {
    outline: 2px dashed ${tokens.text};
    outline-offset: -2px;
  }
`;

const Line = styled(Row)<{ $off: boolean }>`
  cursor: default;
  ${({ $off }) => $off && "text-decoration: line-through;"}
  &[data-selected] {
    background: ${tokens.chosen};
    color: ${tokens.onChosen};
  }
  &[data-focus-visible],
  & [data-focus-visible] {
    outline: 2px solid ${tokens.focus};
    outline-offset: -2px;
  }
  &[data-selected][data-focus-visible],
  &[data-selected] [data-focus-visible] {
    outline-color: ${tokens.onChosen};
  }
`;

/** Rows of which one is chosen, by a press or by the arrow keys. `heads` name the columns, seen or not. Entered by Tab where none is chosen, the first is: choosing only shows, it edits nothing. */
export function Ledger<K extends string>(props: {
  label: string;
  heads: ReactNode[];
  headless?: boolean;
  /** rows hold fields, which have all keys while they are typed in and are reached by Tab; else what stands in a row is reached by arrows, and keys go on to the application */
  hasFields?: boolean;
  /** columns whose words a row is called by; the first by default */
  named?: number[];
  chosen: K | null;
  onChoose: (id: K) => void;
  dragAndDropHooks?: DragAndDropHooks;
  style?: CSSProperties;
  children: ReactNode;
}) {
  const { named = [0] } = props;

  return (
    <Frame
      aria-label={props.label}
      $headless={props.headless ?? false}
      style={props.style}
      selectionMode="single"
      selectionBehavior="replace"
      disallowEmptySelection
      keyboardNavigationBehavior={props.hasFields ? "tab" : "arrow"}
      escapeKeyBehavior="none"
      dragAndDropHooks={props.dragAndDropHooks}
      selectedKeys={props.chosen === null ? [] : [props.chosen]}
      onSelectionChange={(keys) => {
        const [id] = [...(keys as Set<K>)];
        if (id !== undefined) props.onChoose(id);
      }}
    >
      <TableHeader>
        {props.heads.map((head, i) => (
          <Column key={i} id={`column ${i}`} isRowHeader={named.includes(i)}>
            {head}
          </Column>
        ))}
      </TableHeader>
      <TableBody>{props.children}</TableBody>
    </Frame>
  );
}

/** A row of a ledger, of as many `LedgerCell`s as it has columns. `off`: out of use. */
export function LedgerRow(props: { id: string; off?: boolean; isDisabled?: boolean; children: ReactNode }) {
  return (
    <Line id={props.id} $off={props.off ?? false} isDisabled={props.isDisabled}>
      {props.children}
    </Line>
  );
}

/** What a row is found by when letters are typed: nothing, for letters are the keys of Marsh. */
const UNSOUGHT = "\u200b";

export function LedgerCell({ children, style }: { children: ReactNode; style?: CSSProperties }) {
  return (
    <Cell textValue={UNSOUGHT} style={style}>
      {children}
    </Cell>
  );
}
