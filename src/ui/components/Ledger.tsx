"use client";
import {
  Children,
  Fragment,
  createContext,
  isValidElement,
  useContext,
  useDeferredValue,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
  type CSSProperties,
  type ReactElement,
  type ReactNode,
  type RefObject,
} from "react";
import { ListDropTargetDelegate } from "react-aria/ListDropTargetDelegate";
import { ListKeyboardDelegate } from "react-aria/ListKeyboardDelegate";
import { useGridList, useGridListItem } from "react-aria/useGridList";
import { mergeProps } from "react-aria/mergeProps";
import type { DragAndDropHooks, DropPosition } from "react-aria-components";
import { Item } from "react-stately/Item";
import type { DraggableCollectionState } from "react-stately/useDraggableCollectionState";
import type { DroppableCollectionState } from "react-stately/useDroppableCollectionState";
import { useListState, type ListState } from "react-stately/useListState";
import styled from "styled-components";
import { tokens } from "../tokens/tokens";
import { ledgerLines } from "./panels";

const Frame = styled.table<{ $headless: boolean }>`
  ${ledgerLines}
  outline: none;
  thead {
    ${({ $headless }) => $headless && "display: none;"}
  }
`;

const Line = styled.tr<{ $off: boolean }>`
  cursor: default;
  ${({ $off }) => $off && "text-decoration: line-through;"}
  &[aria-selected="true"] {
    background: ${tokens.chosen};
    color: ${tokens.onChosen};
  }
  &:focus-visible,
  & :focus-visible {
    outline: 2px solid ${tokens.focus};
    outline-offset: -2px;
  }
  &[aria-selected="true"]:focus-visible,
  &[aria-selected="true"] :focus-visible {
    outline-color: ${tokens.onChosen};
  }
  &[data-drop-target] {
    outline: 2px dashed ${tokens.text};
    outline-offset: -2px;
  }
`;

/** Light and dark, so that it is seen beside a chosen row too. */
const Between = styled.tr`
  && td {
    padding: 0;
    border-top: 2px solid ${tokens.onChosen};
    border-bottom: 2px solid ${tokens.text};
  }
`;

/** A row by its id. */
export interface LedgerItem<K extends string> {
  id: K;
  /** stands there, and is never chosen */
  isFixed?: boolean;
}

/** What a ledger knows when it was drawn last. */
interface Drawn {
  state: ListState<LedgerItem<string>>;
  gridId: string;
  named: number[];
  columns: number;
  hooks?: DragAndDropHooks;
  dragState?: DraggableCollectionState;
  dropState?: DroppableCollectionState;
}

interface Held {
  drawn: Drawn | null;
  listeners: Set<() => void>;
  subscribe: (listener: () => void) => () => void;
}

const hold = (): Held => {
  const listeners = new Set<() => void>();
  return { drawn: null, listeners, subscribe: (listener) => (listeners.add(listener), () => listeners.delete(listener)) };
};

const Holding = createContext<Held | null>(null);
/** the id of a cell that names its row */
const Naming = createContext<string | undefined>(undefined);

const toItem = ({ id }: LedgerItem<string>) => <Item key={id}>{id}</Item>;

/**
 * Rows of which one is chosen, by a press or by the arrow keys: a grid list of React Aria, drawn as a table. Entered by Tab where none is chosen, the first is:
 * choosing only shows, it edits nothing. A row is drawn when something of that row is another, so that hundreds can stand in a ledger.
 */
export function Ledger<K extends string>(props: {
  label: string;
  /** names of the columns, seen or not */
  heads: ReactNode[];
  headless?: boolean;
  /** what stands in it, as `children` draws it with a `LedgerRow` each */
  rows: LedgerItem<K>[];
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
  const { heads, onChoose, dragAndDropHooks: hooks } = props;
  const ref = useRef<HTMLTableElement>(null);
  const written = JSON.stringify(props.rows);
  // a list that says the same is the same
  const items = useMemo(() => JSON.parse(written) as LedgerItem<K>[], [written]);
  const latest = useRef(onChoose);
  useEffect(() => {
    latest.current = onChoose;
  });

  const state = useListState<LedgerItem<string>>({
    items,
    children: toItem,
    selectionMode: "single",
    selectionBehavior: "replace",
    disallowEmptySelection: true,
    selectedKeys: useMemo(() => (props.chosen === null ? [] : [props.chosen]), [props.chosen]),
    disabledKeys: useMemo(() => items.filter((row) => row.isFixed).map((row) => row.id), [items]),
    onSelectionChange: (keys) => {
      const [id] = [...(keys as Set<K>)];
      if (id !== undefined) latest.current(id);
    },
  });
  const { gridProps } = useGridList(
    {
      "aria-label": props.label,
      disallowTypeAhead: true,
      escapeKeyBehavior: "none",
      keyboardNavigationBehavior: props.hasFields ? "tab" : "arrow",
      shouldSelectOnPressUp: hooks !== undefined,
    },
    state,
    ref,
  );
  const { dragState, dropState, dropProps } = useDragging(hooks, state, ref);

  const [held] = useState(hold);
  held.drawn = { state, gridId: gridProps.id!, named: props.named ?? [0], columns: heads.length, hooks, dragState, dropState };
  useLayoutEffect(() => {
    for (const listener of held.listeners) listener();
  });

  return (
    <Holding.Provider value={held}>
      <Frame {...mergeProps(gridProps, dropProps)} ref={ref} $headless={props.headless ?? false} style={props.style}>
        <thead>
          <tr role="row">
            {heads.map((head, i) => (
              <th key={i} role="columnheader">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{props.children}</tbody>
      </Frame>
    </Holding.Provider>
  );
}

/** A ledger whose rows are dragged, or dropped on, as its hooks say; which of the two never changes while it stands. */
function useDragging(hooks: DragAndDropHooks | undefined, state: Drawn["state"], ref: RefObject<HTMLElement | null>) {
  const { collection, selectionManager } = state;
  const dragState = hooks?.useDraggableCollectionState?.({ collection, selectionManager });
  if (dragState) hooks!.useDraggableCollection!({}, dragState, ref);
  const dropState = hooks?.useDroppableCollectionState?.({ collection, selectionManager });
  const drop =
    dropState &&
    hooks!.useDroppableCollection!(
      {
        keyboardDelegate: new ListKeyboardDelegate({ collection, ref, disabledKeys: state.disabledKeys }),
        dropTargetDelegate: new ListDropTargetDelegate(collection, ref),
      },
      dropState,
      ref,
    );
  return { dragState, dropState, dropProps: drop?.collectionProps };
}

/** All that a row shows of what its ledger knows; where something would be dropped is shown by more than one. */
function lookOf({ state, dragState, dropState }: Drawn, id: string): string {
  const { selectionManager: choice, collection } = state;
  const holdsFocus = choice.focusedKey === id;
  return JSON.stringify([
    choice.isSelected(id),
    choice.isDisabled(id),
    choice.selectionBehavior,
    holdsFocus && [choice.isFocused, choice.childFocusStrategy],
    dragState && [dragState.isDisabled, dragState.isDragging(id)],
    collection.getItem(id) && [collection.getItem(id)!.nextKey],
    dropState?.target,
  ]);
}

const AT_ONCE = 40;

/** The rows of a list that may be long: the first at once, the others when the screen has answered. */
export const useInTurn = <T,>(rows: T[]): T[] => useDeferredValue(rows, rows.slice(0, AT_ONCE));

/** A row of a ledger, of as many `LedgerCell`s as it has columns. `off`: out of use. */
export function LedgerRow({ id, off, children }: { id: string; off?: boolean; children: ReactNode }) {
  const held = useContext(Holding)!;
  useSyncExternalStore(
    held.subscribe,
    () => lookOf(held.drawn!, id),
    () => "",
  );
  const drawn = held.drawn!;
  // listed, and no longer among what the ledger was given
  if (!drawn.state.collection.getItem(id)) return null;
  return (
    <DrawnRow drawn={drawn} id={id} off={off ?? false}>
      {children}
    </DrawnRow>
  );
}

function DrawnRow({ drawn, id, off, children }: { drawn: Drawn; id: string; off: boolean; children: ReactNode }) {
  const { state, hooks, dragState, dropState } = drawn;
  const ref = useRef<HTMLTableRowElement>(null);
  const node = state.collection.getItem(id)!;
  const { rowProps } = useGridListItem({ node, shouldSelectOnPressUp: hooks !== undefined }, state, ref);
  // by keys a row moves with Alt and an arrow, or by a choice on the bench: a press of Enter must not begin to drag
  const draggable = dragState && hooks!.useDraggableItem!({ key: id, hasDragButton: true }, dragState);
  const cells = cellsOf(children);
  // what comes to lie after a row is shown before the next
  const isTarget = (dropPosition: DropPosition) => dropState?.isDropTarget({ type: "item", key: id, dropPosition }) ?? false;
  const nameId = (i: number) => `${drawn.gridId}-${id}-${i}`;
  return (
    <>
      {isTarget("before") && <DropLine columns={drawn.columns} />}
      <Line
        {...mergeProps(rowProps, draggable?.dragProps)}
        ref={ref}
        $off={off}
        aria-label={undefined}
        aria-labelledby={drawn.named.map(nameId).join(" ")}
        data-drop-target={isTarget("on") || undefined}
      >
        {cells.map((cell, i) => (
          <Naming.Provider key={i} value={drawn.named.includes(i) ? nameId(i) : undefined}>
            {cell}
          </Naming.Provider>
        ))}
      </Line>
      {node.nextKey == null && isTarget("after") && <DropLine columns={drawn.columns} />}
    </>
  );
}

/** Where what is dragged would come to lie. */
const DropLine = ({ columns }: { columns: number }) => (
  <Between role="presentation">
    <td role="presentation" colSpan={columns} />
  </Between>
);

const cellsOf = (children: ReactNode): ReactNode[] =>
  Children.toArray(children).flatMap((cell) =>
    isValidElement(cell) && cell.type === Fragment ? cellsOf((cell as ReactElement<{ children: ReactNode }>).props.children) : [cell],
  );

export function LedgerCell({ children, style }: { children: ReactNode; style?: CSSProperties }) {
  const nameId = useContext(Naming);
  return (
    <td role={nameId ? "rowheader" : "gridcell"} id={nameId} style={style}>
      {children}
    </td>
  );
}
