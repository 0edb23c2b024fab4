import { css } from "styled-components";
import { tokens } from "../tokens/tokens";

/** A list that opens over the screen, to choose from or to act. */
export const openedList = css`
  max-height: inherit;
  overflow-y: auto;
  padding: 3px 0;
  background: ${tokens.field};
  border: 1px solid ${tokens.lineStrong};
  outline: none;
`;

/** What stands in it. */
export const openedItem = css`
  display: flex;
  padding: 4px 12px;
  font-size: ${tokens.size.text};
  cursor: default;
  outline: none;
  &[data-focused] {
    background: ${tokens.chosen};
    color: ${tokens.onChosen};
  }
  &[data-disabled] {
    color: ${tokens.disabled};
  }
`;
