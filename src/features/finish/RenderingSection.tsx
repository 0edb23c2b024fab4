"use client";
import { share } from "../../kinds/values";
import { useState } from "react";
import { CHARACTERS } from "../../core/render/characters";
import { asMerged, isFinished, renderedSo } from "../../document/renderingEdits";
import { outputGeometry } from "../../document/outputGeometry";
import type { Rendering } from "../../engine/operations/finish/renderings";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { holds, lookForRenderings, rememberedCharacter, takeAsMerged, takeRendering, type ToldRenderings } from "../../session/rendering";
import { usePartsOf } from "../../session/store";
import { Button, PrimaryButton } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Card, Facts, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { percent, plain, withUnit } from "../../ui/format";
import { Patch, Patches, PatchPicture } from "../../view/patches";

/** The character that was taken last comes first. */
function inOrder(renderings: readonly Rendering[]): Rendering[] {
  const first = rememberedCharacter();
  const place = ({ character }: Rendering) => (character === first ? -1 : CHARACTERS.indexOf(character));
  return [...renderings].sort((a, b) => place(a) - place(b));
}

/** Renderings of the merge in several characters beside what it is now, each with its figures; one is taken as ordinary steps, at a strength. */
export function RenderingSection({ isBegun }: { isBegun: boolean }) {
  const { records, readOnly, isBusy } = usePartsOf("records", "readOnly", "isBusy");
  const [found, setFound] = useState<ToldRenderings | null>(null);
  const [strength, setStrength] = useState(1);
  const isStale = found !== null && !holds(found, records);
  const shown = isStale ? null : found;
  // by what is there, so that undo and later changes show too
  const chosen = shown?.told.renderings.find((r) => isFinished(records, renderedSo(r.values, strength))) ?? null;
  const { crop } = outputGeometry(records);
  const whole = { x: 0, y: 0, width: crop.width, height: crop.height };
  // the order stays as it was when they were looked for: nothing moves under the pointer
  const look = () => void lookForRenderings().then((told) => told && setFound({ ...told, told: { ...told.told, renderings: inOrder(told.told.renderings) } }));
  const LookButton = isBegun || shown ? Button : PrimaryButton;
  return (
    <Section>
      <Heading>{sentence("finish/rendering")}</Heading>
      <Soft>{sentence("finish/renderingMeans")}</Soft>
      {isStale && <Card>{sentence("seating/matchStale")}</Card>}
      {shown && (
        <>
          <Soft>
            {sentence(message("finish/lightSpans", { ev: shown.told.rangeEv }))}{" "}
            {shown.told.candelas !== null && sentence(message("finish/lightOf", { candelas: told(shown.told.candelas) }))}
          </Soft>
          <Patches role="group" aria-label={sentence("finish/rendering")} style={{ gridTemplateColumns: "1fr 1fr", margin: "8px 0" }}>
            {shown.told.renderings.map((rendering) => (
              <Patch
                key={rendering.character}
                isSelected={chosen?.character === rendering.character}
                isDisabled={readOnly || isBusy}
                onChange={() => takeRendering(rendering, strength)}
                style={{ whiteSpace: "nowrap" }}
              >
                <PatchPicture view={{ kind: "output" }} rectangle={whole} of={crop} records={renderedSo(rendering.values, 1)(shown.records)} />
                {sentence(`finish/character.${rendering.character}`)}
              </Patch>
            ))}
            <Patch isSelected={isFinished(records, asMerged)} isDisabled={readOnly || isBusy} onChange={() => takeAsMerged()}>
              <PatchPicture view={{ kind: "output" }} rectangle={whole} of={crop} records={asMerged(shown.records)} />
              {sentence("finish/asMerged")}
            </Patch>
          </Patches>
        </>
      )}
      {shown && chosen && (
        <>
          <Soft>{sentence(`finish/characterMeans.${chosen.character}`)}</Soft>
          <Facts aria-label={sentence("finish/rendering")}>
            <dt>{sentence("finish/fidelity")}</dt>
            <dd>
              {plain(shown.told.now.fidelity, 2)} → {plain(chosen.fidelity, 2)}
            </dd>
            <dt>{sentence("finish/meanShown")}</dt>
            <dd>
              {percent(shown.told.now.mean)} → {percent(chosen.mean)}
            </dd>
            <dt>{sentence("finish/whiteShown")}</dt>
            <dd>{percent(chosen.white)}</dd>
            {chosen.values.localTone && (
              <>
                <dt>{sentence("finish/evenedOut")}</dt>
                <dd>{percent(chosen.values.localTone.strength)}</dd>
              </>
            )}
            {chosen.values.exposure && (
              <>
                <dt>{sentence("common/exposure")}</dt>
                <dd>{withUnit(plain(chosen.values.exposure.ev, 2), "EV")}</dd>
              </>
            )}
          </Facts>
          <MeasuredControl
            name={sentence("finish/lookStrength")}
            {...share(1)}
            value={strength}
            isDisabled={readOnly || isBusy}
            onChange={(by) => {
              setStrength(by);
              takeRendering(chosen, by);
            }}
          />
        </>
      )}
      <RowOf>
        <LookButton isDisabled={isBusy} onPress={look}>
          {sentence(shown ? "finish/renderAgain" : "finish/render")}
        </LookButton>
      </RowOf>
    </Section>
  );
}

/** A luminance to two digits, from starlight to daylight. */
const told = (candelas: number): string => (candelas >= 10 ? plain(candelas, 0) : candelas >= 0.1 ? plain(candelas, 1) : plain(candelas, 3));
