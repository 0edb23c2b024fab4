"use client";
import styled from "styled-components";
import { sentence } from "../messages/sentence";
import { MenuButton } from "../ui/components/MenuButton";
import { tokens } from "../ui/tokens/tokens";
import { BANDS, bandTable, JUDGED, type Judged } from "./judgedAs";
import { judgeIn, useView } from "./viewState";

/** Every channel as the same mix of red, green and blue. */
const allOf = (r: number, g: number, b: number): string => `${`${r} ${g} ${b} 0 0  `.repeat(3)}0 0 0 1 0`;
/** Luminance of linear light. @see ITU-R BT.709 */
const MONO = allOf(0.2126, 0.7152, 0.0722);
const STRONGER = 3;

export const filterOf = (judged: Judged): string | undefined => (judged === "colour" ? undefined : `url(#judged-${judged})`);

/** What a picture is drawn through for judging. */
export function JudgingFilters() {
  return (
    <svg aria-hidden="true" width="0" height="0" style={{ position: "absolute" }}>
      <filter id="judged-mono" colorInterpolationFilters="linearRGB">
        <feColorMatrix type="matrix" values={MONO} />
      </filter>
      {(["red", "green", "blue"] as const).map((of, i) => (
        <filter key={of} id={`judged-${of}`} colorInterpolationFilters="sRGB">
          <feColorMatrix type="matrix" values={allOf(Number(i === 0), Number(i === 1), Number(i === 2))} />
        </filter>
      ))}
      <filter id="judged-chroma" colorInterpolationFilters="linearRGB">
        <feColorMatrix type="saturate" values={String(STRONGER)} />
      </filter>
      <filter id="judged-bands" colorInterpolationFilters="linearRGB">
        <feColorMatrix type="matrix" values={MONO} />
        <feComponentTransfer colorInterpolationFilters="sRGB">
          <feFuncR type="discrete" tableValues={bandTable(0)} />
          <feFuncG type="discrete" tableValues={bandTable(1)} />
          <feFuncB type="discrete" tableValues={bandTable(2)} />
        </feComponentTransfer>
      </filter>
    </svg>
  );
}

/** Chooses how the picture is shown for judging. */
export function JudgingMenu() {
  const { judged } = useView();
  return (
    <MenuButton<Judged>
      label={sentence(`view/judged.${judged}`)}
      name={sentence("view/judgedAs")}
      items={JUDGED.map((id) => ({ id, name: sentence(`view/judged.${id}`), does: sentence(`view/judgedMeans.${id}`) }))}
      onChoose={judgeIn}
    />
  );
}

const Legend = styled.span`
  pointer-events: none;
  position: absolute;
  left: 8px;
  bottom: 6px;
  display: flex;
  background: ${tokens.panel};
  font-family: ${tokens.condensed};
  font-size: ${tokens.size.small};
  > span {
    padding: 1px 6px 1px 4px;
    border-left: 14px solid;
  }
`;

/** Which colour of the bands is which light. */
export function BandLegend() {
  const { judged } = useView();
  if (judged !== "bands") return null;
  return (
    <Legend role="note" aria-label={sentence("view/bandsLegend")}>
      {BANDS.map(({ fromEv, color }) => (
        <span key={color} style={{ borderColor: color }}>
          {fromEv === -Infinity ? "<−8" : fromEv > -0.5 ? sentence("view/bandWhite") : `−${-fromEv}`}
        </span>
      ))}
      <span style={{ borderColor: "transparent", borderLeftWidth: 0 }}>EV</span>
    </Legend>
  );
}
