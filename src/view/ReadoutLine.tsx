"use client";
import { sentence } from "../messages/sentence";
import { message } from "../messages/message";
import { useEffect, useRef, useState, type ReactNode } from "react";
import styled from "styled-components";
import { project, type Matrix3 } from "../core/geometry/matrix3";
import type { Records } from "../document/records/types";
import type { Readout } from "../engine/operations/view/readout";
import { Choice } from "../ui/components/Button";
import { percent, pixels, plain, signed, withUnit } from "../ui/format";
import { rem, tokens } from "../ui/tokens/tokens";
import { create } from "zustand";
import { ask } from "../session/openJob";
import { useHover } from "./hover";

const Line = styled.div`
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: ${rem(tokens.layout.readout)};
  padding: 0 12px;
  border-top: 1px solid ${tokens.lineStrong};
  font-family: ${tokens.condensed};
  white-space: nowrap;
  b {
    font-weight: 600;
  }
  ${tokens.narrow} {
    flex-wrap: wrap;
    row-gap: 2px;
  }
`;
/** Gives way where there is no room; the choices beside it stay whole. */
const Values = styled.span`
  display: flex;
  flex: 1;
  min-width: 0;
  gap: 14px;
  overflow: hidden;
  ${tokens.narrow} {
    flex-wrap: wrap;
    row-gap: 0;
    white-space: normal;
  }
`;
const First = styled.span`
  flex: none;
`;
const Frames = styled.span`
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
`;
const Sizes = styled.span`
  display: flex;
  ${tokens.narrow} {
    flex-wrap: wrap;
  }
  gap: 2px;
`;
const Size = styled(Choice)`
  min-height: calc(${tokens.hit.target} - 4px);
  padding: 0 6px;
  font-size: ${tokens.size.small};
`;

const useSample = create<{ radius: number; lab: boolean }>(() => ({ radius: 2, lab: false }));

/** Hue angle of CIELAB, degrees from 0 to 360. */
const hueOf = ([, a, b]: Readout["lab"]): number => ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360;

/** At least so long between two readings, ms. */
const BETWEEN_MS = 60;

/** Values under the pointer: place, scene in EV, output, the frame it comes from. */
export function ReadoutLine({ records, toReference, extra }: { records: Records | null; toReference?: Matrix3; extra?: ReactNode }) {
  const at = useHover((s) => s.at);
  const spoken = useHover((s) => s.spoken);
  const [value, setValue] = useState<Readout | null>(null);
  const { radius, lab } = useSample();
  const asked = useRef(false);
  /** what is to be read next, of the picture as it then is */
  const next = useRef<{ records: Records; x: number; y: number; radius: number } | null>(null);
  useEffect(() => {
    if (!at || !records) return;
    const [x, y] = toReference ? project(toReference, at[0], at[1]) : at;
    next.current = { records, x, y, radius };
    const run = async () => {
      if (asked.current) return;
      asked.current = true;
      while (next.current) {
        const wanted = next.current;
        next.current = null;
        try {
          setValue(await ask("readOut", wanted));
        } catch {
          setValue(null);
        }
        // painting comes first
        await new Promise((go) => setTimeout(go, BETWEEN_MS));
      }
      asked.current = false;
    };
    void run();
  }, [at, records, radius, toReference]);
  return (
    <Line>
      <Values aria-live={spoken ? "polite" : "off"} aria-atomic>
        {extra && <First>{extra}</First>}
        {at ? (
          <>
            <span>
              x <b>{pixels(at[0])}</b> y <b>{pixels(at[1])}</b>
            </span>
            {value && (
              <>
                <span>
                  {sentence("view/scene")} <b>{value.sceneEv === null ? sentence("view/black") : withUnit(signed(value.sceneEv, 2), "EV")}</b>
                </span>
                <span>
                  {sentence("view/srgb")} <b>{value.output.join(" ")}</b>
                </span>
                {lab && (
                  <span>
                    L* <b>{plain(value.lab[0], 1)}</b> C <b>{Math.hypot(value.lab[1], value.lab[2]).toFixed(1)}</b> h <b>{hueOf(value.lab).toFixed(0)}°</b>
                  </span>
                )}
                <Frames>
                  {sentence("view/frame")}{" "}
                  {value.gives.slice(0, 3).map((g, i) => (
                    <span key={g.number}>
                      {i > 0 && ", "}
                      <b>{g.number}</b> {value.gives.length > 1 && percent(g.share)}
                    </span>
                  ))}
                </Frames>
              </>
            )}
          </>
        ) : (
          <span>{sentence("view/pointPictureReadIts")}</span>
        )}
      </Values>
      <Sizes role="group" aria-label={sentence("view/sampleSize")}>
        <Size isSelected={lab} onChange={(on) => useSample.setState({ lab: on })}>
          {sentence("view/lCh")}
        </Size>
        {[0, 2, 5].map((r) => (
          <Size key={r} isSelected={radius === r} onChange={() => useSample.setState({ radius: r })}>
            {sentence(message("view/px", { value: 2 * r + 1 }))}
          </Size>
        ))}
      </Sizes>
    </Line>
  );
}
