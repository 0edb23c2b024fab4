"use client";
import { Button as AriaButton, ToggleButton as AriaToggle } from "react-aria-components";
import styled, { css } from "styled-components";
import { tokens } from "../tokens/tokens";

/** The look of what is pressed. */
export const shape = css`
  border: 1px solid ${tokens.lineStrong};
  background: ${tokens.field};
  color: ${tokens.text};
  padding: 3px 10px;
  min-height: ${tokens.hit.target};
  min-width: ${tokens.hit.target};
  font-size: ${tokens.size.text};
  line-height: 1.3;
  cursor: default;
  text-align: left;
  &[data-hovered] {
    border-color: ${tokens.text};
  }
  &[data-pressed] {
    background: ${tokens.panelLow};
  }
  &[data-disabled] {
    color: ${tokens.textSoft};
    border-style: dashed;
    background: transparent;
  }
`;

export const Button = styled(AriaButton)`
  ${shape}
`;

/** Text that acts is hit beyond its line, too. */
const reaching = css`
  position: relative;
  &::after {
    content: "";
    position: absolute;
    inset: calc(-1 * ${tokens.hit.beyond}) calc(-0.3 * ${tokens.hit.beyond});
  }
`;

/** The one next step of a screen. */
export const PrimaryButton = styled(AriaButton)`
  ${shape}
  background: ${tokens.action};
  border-color: ${tokens.action};
  color: ${tokens.onChosen};
  font-weight: 600;
  &[data-pressed] {
    background: ${tokens.chosen};
  }
  &[data-disabled] {
    color: ${tokens.textSoft};
  }
`;

/** An action inside a sentence or a row. */
export const TextButton = styled(AriaButton)`
  ${reaching}
  border: 0;
  background: none;
  padding: 0 1px;
  color: ${tokens.action};
  font-weight: 600;
  text-align: left;
  cursor: default;
  &[data-hovered] {
    text-decoration: underline;
  }
  &[data-disabled] {
    color: ${tokens.textSoft};
    font-weight: 400;
  }
`;

export const PlainButton = styled(AriaButton)`
  ${reaching}
  border: 0;
  background: none;
  padding: 0 2px;
  color: ${tokens.text};
  cursor: default;
  &[data-hovered] {
    text-decoration: underline;
  }
  &[data-disabled] {
    color: ${tokens.disabled};
  }
`;

/** How what can be on shows that it is. */
export const whenOn = css`
  padding: 2px 9px;
  &[data-selected] {
    background: ${tokens.chosen};
    border-color: ${tokens.chosen};
    color: ${tokens.onChosen};
  }
`;

/** Something that is on or off: filled black when on. */
export const Choice = styled(AriaToggle)`
  ${shape}
  ${whenOn}
`;
