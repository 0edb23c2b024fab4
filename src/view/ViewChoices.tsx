"use client";
import type { ReactNode } from "react";
import { Choice } from "../ui/components/Button";
import { SURROUNDS, tokens, type Surround } from "../ui/tokens/tokens";
import { showOneToOne, showWhole, useView } from "./viewState";
import { Button } from "../ui/components/Button";
import styled from "styled-components";

/** A word too long widens its button, it never breaks. */
const View = styled(Choice)`
  white-space: nowrap;
`;
const Right = styled.span`
  margin-left: auto;
  display: flex;
  gap: 6px;
  align-items: center;
`;
const Swatch = styled.button<{ $color: string; $on: boolean }>`
  width: ${tokens.hit.swatch};
  height: ${tokens.hit.swatch};
  border: ${({ $on }) => ($on ? "3px solid #000" : "1px solid #333")};
  background: ${({ $color }) => $color};
  padding: 0;
`;

/** The row of views above the picture: what is shown, then how. */
export function ViewChoices<T extends string>(props: {
  views: { id: T; label: string; isDisabled?: boolean }[];
  chosen: T;
  onChoose: (id: T) => void;
  children?: ReactNode;
}) {
  const { surround } = useView();
  return (
    <>
      {props.views.map((v) => (
        <View key={v.id} isSelected={props.chosen === v.id} isDisabled={v.isDisabled} onChange={() => props.onChoose(v.id)}>
          {v.label}
        </View>
      ))}
      {props.children}
      <Right>
        <Button onPress={showWhole}>Whole</Button>
        <Button onPress={showOneToOne}>1:1</Button>
        <span role="group" aria-label="Surround" style={{ display: "flex", gap: 3 }}>
          {(Object.keys(SURROUNDS) as Surround[]).map((s) => (
            <Swatch
              key={s}
              $color={SURROUNDS[s]}
              $on={s === surround}
              aria-label={`Surround ${s}`}
              aria-pressed={s === surround}
              title={`Surround: ${s}`}
              onClick={() => useView.setState({ surround: s })}
            />
          ))}
        </span>
      </Right>
    </>
  );
}
