"use client";
import { sentence } from "../messages/sentence";
import { message } from "../messages/message";
import type { ReactNode } from "react";
import { ToggleButton, ToggleButtonGroup } from "react-aria-components";
import { Choices } from "../ui/components/Choices";
import { SURROUNDS, tokens, type Surround } from "../ui/tokens/tokens";
import { showOneToOne, showWhole, useView } from "./viewState";
import { Button } from "../ui/components/Button";
import styled from "styled-components";

const Right = styled.span`
  margin-left: auto;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
`;
const Swatches = styled(ToggleButtonGroup)`
  display: flex;
  gap: 3px;
`;
const Swatch = styled(ToggleButton)<{ $color: string; $on: boolean }>`
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
      <Choices label={sentence("view/view")} within items={props.views} chosen={props.chosen} onChoose={props.onChoose} />
      {props.children}
      <Right>
        <Button onPress={showWhole}>{sentence("common/whole")}</Button>
        <Button onPress={showOneToOne}>1:1</Button>
        <Swatches
          aria-label={sentence("view/surround")}
          selectionMode="single"
          disallowEmptySelection
          selectedKeys={[surround]}
          onSelectionChange={([s]) => useView.setState({ surround: s as Surround })}
        >
          {(Object.keys(SURROUNDS) as Surround[]).map((s) => (
            <Swatch key={s} id={s} $color={SURROUNDS[s]} $on={s === surround} aria-label={sentence(message("view/surroundChoice", { value: s }))} />
          ))}
        </Swatches>
      </Right>
    </>
  );
}
