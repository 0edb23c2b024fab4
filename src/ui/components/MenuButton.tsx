"use client";
import { Menu, MenuItem, MenuTrigger, Popover, Text } from "react-aria-components";
import styled from "styled-components";
import { tokens } from "../tokens/tokens";
import { Button } from "./Button";
import { openedItem, openedList } from "./opened";

const List = styled(Menu)`
  ${openedList}
  width: 290px;
`;
const Item = styled(MenuItem)`
  ${openedItem}
  flex-direction: column;
  [slot="description"] {
    font-size: ${tokens.size.small};
    line-height: 1.25;
  }
`;

export interface MenuChoice<T extends string> {
  id: T;
  name: string;
  /** what it does, in a sentence */
  does?: string;
  isDisabled?: boolean;
}

/** A button that opens a list of things to do, each with what it does. @property name in full, where the label needs what it stands beside */
export function MenuButton<T extends string>(props: { label: string; name?: string; items: MenuChoice<T>[]; isDisabled?: boolean; onChoose: (id: T) => void }) {
  return (
    <MenuTrigger>
      <Button isDisabled={props.isDisabled} aria-label={props.name}>
        {props.label} ▾
      </Button>
      <Popover maxHeight={tokens.layout.list}>
        <List
          aria-label={props.name ?? props.label}
          onAction={(key) => props.onChoose(key as T)}
          disabledKeys={props.items.filter((i) => i.isDisabled).map((i) => i.id)}
        >
          {props.items.map(({ id, name, does }) => (
            <Item key={id} id={id} textValue={name}>
              <Text slot="label">{name}</Text>
              {does && <Text slot="description">{does}</Text>}
            </Item>
          ))}
        </List>
      </Popover>
    </MenuTrigger>
  );
}
