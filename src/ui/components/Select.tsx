"use client";
import styled from "styled-components";
import { tokens } from "../tokens/tokens";

const Frame = styled.label`
  display: flex;
  flex-direction: column;
  gap: 2px;
  margin-top: 6px;
  font-size: ${tokens.size.small};
  select {
    min-height: 26px;
    font-size: ${tokens.size.text};
  }
`;

/** One of several, with its name above. */
export function Select<T extends string>(props: {
  label: string;
  items: { id: T; label: string }[];
  chosen: T;
  isDisabled?: boolean;
  onChoose: (id: T) => void;
}) {
  return (
    <Frame>
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
