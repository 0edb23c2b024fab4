"use client";
import styled from "styled-components";
import { tokens } from "../tokens/tokens";

const Frame = styled.label<{ $inline?: boolean }>`
  display: flex;
  flex-direction: ${({ $inline }) => ($inline ? "row" : "column")};
  align-items: ${({ $inline }) => ($inline ? "center" : "stretch")};
  gap: ${({ $inline }) => ($inline ? 6 : 2)}px;
  margin-top: ${({ $inline }) => ($inline ? 0 : 6)}px;
  font-size: ${tokens.size.small};
  select {
    min-height: ${tokens.hit.target};
    font-size: ${tokens.size.text};
  }
`;

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
    <Frame $inline={props.inline}>
      {props.label}
      <select value={props.chosen} disabled={props.isDisabled} onChange={(e) => props.onChoose(e.target.value as T)}>
        {props.items.map((i) => (
          <option key={i.id} value={i.id}>
            {i.label}
          </option>
        ))}
      </select>
    </Frame>
  );
}
