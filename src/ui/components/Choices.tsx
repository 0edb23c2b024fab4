"use client";
import { useEffect, useRef, type ReactNode } from "react";
import { ToggleButtonGroup } from "react-aria-components";
import styled from "styled-components";
import { Choice } from "./Button";

const Group = styled(ToggleButtonGroup)<{ $within: boolean }>`
  display: ${({ $within }) => ($within ? "contents" : "flex")};
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  margin-top: ${({ $within }) => ($within ? 0 : 8)}px;
`;
/** Arrow keys are for those who came by them: after a press of the pointer, whose clicks are counted, they are the picture's again. */
function useLetGo() {
  const group = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = group.current;
    const onClick = ({ detail }: globalThis.MouseEvent) => {
      const focused = document.activeElement;
      if (detail > 0 && focused instanceof HTMLElement && element?.contains(focused)) focused.blur();
    };
    // the press has been taken by then, and no React handler keeps it from here
    element?.addEventListener("click", onClick);
    return () => element?.removeEventListener("click", onClick);
  }, []);
  return group;
}

/** A word too long widens its choice, it never breaks. */
const One = styled(Choice)`
  white-space: nowrap;
`;

export interface OneOf<T extends string> {
  id: T;
  label: ReactNode;
  isDisabled?: boolean;
}

/** One of a few, all in sight: filled black when chosen. The keys left and right go from one to the next, the space bar takes it. */
export function Choices<T extends string>(props: {
  label: string;
  items: readonly OneOf<T>[];
  chosen: T | null;
  isDisabled?: boolean;
  /** in a row that holds other things, too */
  within?: boolean;
  onChoose: (id: T) => void;
}) {
  const group = useLetGo();
  return (
    <Group
      ref={group}
      aria-label={props.label}
      selectionMode="single"
      disallowEmptySelection
      $within={props.within ?? false}
      selectedKeys={props.chosen === null ? [] : [props.chosen]}
      isDisabled={props.isDisabled}
      onSelectionChange={(keys) => {
        const [id] = [...keys];
        if (id !== undefined && id !== props.chosen) props.onChoose(id as T);
      }}
    >
      {props.items.map(({ id, label, isDisabled }) => (
        <One key={id} id={id} isDisabled={isDisabled}>
          {label}
        </One>
      ))}
    </Group>
  );
}
