"use client";
import { Button, Label, ListBox, ListBoxItem, Popover, Select as AriaSelect, SelectValue } from "react-aria-components";
import styled from "styled-components";
import { tokens } from "../tokens/tokens";
import { shape } from "./Button";
import { openedItem, openedList } from "./opened";

const Frame = styled(AriaSelect)<{ $inline: boolean }>`
  display: flex;
  flex-direction: ${({ $inline }) => ($inline ? "row" : "column")};
  align-items: ${({ $inline }) => ($inline ? "center" : "stretch")};
  gap: ${({ $inline }) => ($inline ? 6 : 2)}px;
  margin-top: ${({ $inline }) => ($inline ? 0 : 6)}px;
  font-size: ${tokens.size.small};
  min-width: 0;
`;
const Opener = styled(Button)`
  ${shape}
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
  min-width: 0;
  padding-right: 6px;
`;
const Value = styled(SelectValue)`
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
`;
const List = styled(ListBox)`
  ${openedList}
  max-width: 420px;
  min-width: var(--trigger-width);
`;
const Item = styled(ListBoxItem)`
  ${openedItem}
  align-items: center;
  min-height: ${tokens.hit.target};
  padding-block: 1px;
  &[data-selected] {
    font-weight: 600;
  }
`;

/** A key must not be empty in a collection, the name of what is chosen may. */
const NONE = "none ";
const keyOf = (id: string) => (id === "" ? NONE : id);

/** One of several, with its name above, or before it in a row. */
export function Select<T extends string>(props: {
  label: string;
  items: { id: T; label: string }[];
  chosen: T;
  isDisabled?: boolean;
  inline?: boolean;
  onChoose: (id: T) => void;
}) {
  return (
    <Frame
      $inline={props.inline ?? false}
      value={keyOf(props.chosen)}
      isDisabled={props.isDisabled}
      onChange={(key) => props.onChoose((key === NONE ? "" : key) as T)}
    >
      <Label>{props.label}</Label>
      <Opener>
        <Value>{({ selectedText }) => selectedText}</Value>
        <span aria-hidden="true">▾</span>
      </Opener>
      <Popover maxHeight={tokens.layout.list}>
        <List>
          {props.items.map((i) => (
            <Item key={i.id} id={keyOf(i.id)} textValue={i.label}>
              {i.label}
            </Item>
          ))}
        </List>
      </Popover>
    </Frame>
  );
}
