import { createGlobalStyle } from "styled-components";
import { tokens } from "./tokens";

export const GlobalStyle = createGlobalStyle`
  *, *::before, *::after { box-sizing: border-box; }
  html { font-size: 100%; }
  html, body { margin: 0; height: 100%; overflow: hidden; background: ${tokens.panel}; color: ${tokens.text}; }
  body { font-family: ${tokens.sans}; font-size: ${tokens.size.text}; line-height: 1.4; font-variant-numeric: tabular-nums; -webkit-font-smoothing: antialiased; }
  h1, h2, h3, p, dl, dd, ul, ol { margin: 0; padding: 0; font-size: inherit; font-weight: inherit; }
  ul, ol { list-style: none; }
  button, input { font: inherit; color: inherit; }
  input::placeholder { color: ${tokens.textSoft}; }
  :root { --target: 26px; --swatch: 18px; --beyond: 0px; }
  @media (pointer: coarse) { :root { --target: 40px; --swatch: 40px; --beyond: 12px; } }
  @media (prefers-reduced-motion: reduce) { *, *::before, *::after { animation: none !important; transition: none !important; } }
  :focus { outline: none; }
  :focus-visible, [data-focus-visible] { outline: 2px solid ${tokens.focus}; outline-offset: 1px; }
`;
