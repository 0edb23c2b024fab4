"use client";
import styled from "styled-components";
import { tokens } from "../tokens/tokens";

/** A line of text; as a textarea, some lines of it. */
export const TextField = styled.input`
  width: 100%;
  padding: 2px 5px;
  border: 1px solid ${tokens.lineStrong};
  background: ${tokens.field};
  color: ${tokens.text};
  font: inherit;
  resize: vertical;
`;
