import styled from "styled-components";
import { tokens } from "../../ui/tokens/tokens";

/** A frame in a table of frames: filled where it is taken. */
export const FrameCell = styled.button<{ $taken: boolean; $row: boolean }>`
  display: block;
  width: 100%;
  min-width: 34px;
  padding: 3px 1px;
  text-align: center;
  border: 1px solid ${({ $row }) => ($row ? tokens.onChosen : tokens.line)};
  background: ${({ $taken }) => ($taken ? tokens.action : tokens.field)};
  color: ${({ $taken }) => ($taken ? tokens.onChosen : tokens.text)};
  font: inherit;
  font-weight: ${({ $taken }) => ($taken ? 600 : 400)};
  white-space: nowrap;
  cursor: default;
`;
