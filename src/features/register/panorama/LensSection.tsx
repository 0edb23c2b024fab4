"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { Input, Label, NumberField } from "react-aria-components";
import styled from "styled-components";
import type { PanoramaRecord } from "../../../document/records/panoramaTypes";
import { registerPanorama } from "../../../session/panorama";
import { Facts, Heading, Section, Soft } from "../../../ui/components/panels";
import { tokens } from "../../../ui/tokens/tokens";
import { percent, pixels, plain, signed, withUnit } from "../../../ui/format";

const Field = styled(NumberField)`
  display: flex;
  align-items: baseline;
  gap: 6px;
  margin: 4px 0;
  input {
    width: 84px;
    padding: 2px 4px;
    text-align: right;
    border: 1px solid ${tokens.lineStrong};
    background: ${tokens.field};
    font-weight: 600;
  }
`;

/** A focal length told in px, or nothing. */
export function FocalField({ value, isDisabled, onChange }: { value: number | null; isDisabled: boolean; onChange: (px: number | null) => void }) {
  return (
    <Field
      value={value ?? NaN}
      minValue={10}
      maxValue={200000}
      isDisabled={isDisabled}
      formatOptions={{ maximumFractionDigits: 1, useGrouping: false }}
      onChange={(v) => onChange(Number.isFinite(v) ? v : null)}
    >
      <Label>{sentence("register/focalLengthTold")}</Label>
      <Input placeholder={sentence("register/unknown")} />
      <span>{sentence("register/px")}</span>
    </Field>
  );
}

/** What was found of the lens and of the light. */
export function LensSection({ panorama, isDisabled }: { panorama: PanoramaRecord; isDisabled: boolean }) {
  const { lens, falloff } = panorama;
  const corner = falloff[0] + falloff[1] + falloff[2];
  const bent = lens.k1 !== 0 || lens.k2 !== 0;
  return (
    <Section>
      <Heading>{sentence("register/lens")}</Heading>
      <Facts>
        <dt>{sentence("common/focalLength")}</dt>
        <dd>
          {withUnit(pixels(lens.focalPx), "px")} ±{percent(lens.focalSd)}
        </dd>
        <dt>{sentence("register/distortion")}</dt>
        <dd>{bent ? `k1 ${signed(lens.k1, 4)}${lens.k2 ? `, k2 ${signed(lens.k2, 4)}` : ""}` : sentence("register/noneFound")}</dd>
        <dt>{sentence("register/falloffCorners")}</dt>
        <dd>{withUnit(signed(corner, 2), "EV")}</dd>
      </Facts>
      {bent && (
        <Soft>
          {sentence(
            message("register/wherePictureSeenUnder", {
              value: lens.k1 < 0 ? sentence("register/barrelOfLens") : sentence("register/cushionOfLens"),
              value2: plain(100 * Math.abs(lens.k1) * 0.25, 1),
            }),
          )}
        </Soft>
      )}
      <FocalField value={lens.toldFocalPx} isDisabled={isDisabled} onChange={(focalPx) => focalPx !== lens.toldFocalPx && void registerPanorama({ focalPx })} />
    </Section>
  );
}
