"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { valueStep } from "../../../messages/valueStep";
import { radiusBetween, type Defocus } from "../../../core/air/defocus";
import type { EdgeBlur } from "../../../engine/operations/light/measureBlur";
import { bleedOf, depthOfFieldOf, focusAt, layBleed } from "../../../document/airEdits";
import { blurLayer } from "../../../document/layerEdits";
import { seatFigures } from "../../../document/seatGeometry";
import { plateFrame } from "../../../document/seatEdits";
import type { SeatRecord } from "../../../document/records/plateTypes";
import { framesOf, layerOf } from "../../../document/selectors";
import { pictureIdOf } from "../../../document/sourceIds";
import { MOST_DEFOCUS, MOST_MOTION } from "../../../kinds/contents/frame/record";
import { showLive } from "../../../session/live";
import { ask, edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { plain, withUnit } from "../../../ui/format";
import { toLayer } from "../../../view/composeState";
import { useAsked } from "../../../view/useAsked";

const SHARP: Defocus = { radiusPx: 0, motionPx: 0, motionDeg: 0 };

const VALUES = [
  { of: "radiusPx", name: "seating/defocus", unit: "px", min: 0, max: MOST_DEFOCUS, step: 0.1, digits: 1 },
  { of: "motionPx", name: "seating/motion", unit: "px", min: 0, max: MOST_MOTION, step: 0.5, digits: 1 },
  { of: "motionDeg", name: "seating/motionWay", unit: "°", min: -180, max: 180, step: 1, digits: 0 },
] as const;

/** How sharp a thing is beside the plate where it stands, and how far it is brought out of focus. */
export function FocusSection({ seat, isDisabled }: { seat: SeatRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const layer = layerOf(records, seat.layerId)!;
  const content = layer.content.type === "frame" ? layer.content : null;
  const [own, plate] = [framesOf(records).find((f) => f.id === content?.frameId), plateFrame(records)];
  const { defocus = SHARP, ...shown } = content ?? {};
  const of =
    content?.cut && own && plate && seat.on === "ground" ? JSON.stringify([pictureIdOf(own), pictureIdOf(plate), shown, seat.foot, seat.heightM]) : null;
  const told = useAsked<EdgeBlur>(of, (signal) => ask("measureBlur", { records, seatId: seat.id }, { signal }));
  const edges = told?.platePx && told.ownPx ? { platePx: told.platePx, ownPx: told.ownPx } : null;
  const motion = told?.motion ?? null;
  const [bleeds, field] = [bleedOf(records, layer.id), depthOfFieldOf(records)];
  const metres = seatFigures(records, seat)?.distanceM ?? null;
  const radius = edges && radiusBetween(edges.ownPx, edges.platePx);
  const set = (change: Partial<Defocus>) => blurLayer(layer.id, { ...defocus, ...change });
  if (!content?.cut) return null;
  return (
    <Section>
      <Heading>{sentence("seating/focus")}</Heading>
      {!edges && of && <Soft>{sentence(told === undefined ? "seating/focusMeasuring" : "seating/focusTellsNothing")}</Soft>}
      {edges && (
        <Facts aria-label={sentence("seating/focus")}>
          <dt>{sentence("seating/plateEdges")}</dt>
          <dd>{withUnit(plain(edges.platePx, 1), "px")}</dd>
          <dt>{sentence("seating/ownEdges")}</dt>
          <dd>{withUnit(plain(edges.ownPx, 1), "px")}</dd>
          {motion && (
            <>
              <dt>{sentence("seating/plateMotion")}</dt>
              <dd>{sentence(message("seating/motionOf", { px: motion.px, degrees: motion.deg }))}</dd>
            </>
          )}
        </Facts>
      )}
      {edges && radius === null && <Soft>{sentence("seating/cannotSharpen")}</Soft>}
      <RowOf>
        {edges && radius !== null && (
          <Button
            isDisabled={isDisabled}
            onPress={() =>
              edit(set({ radiusPx: Math.round(10 * Math.min(MOST_DEFOCUS, radius)) / 10 }), {
                stage: "compose",
                label: message("step.focusAsPlate", { name: layer.name }),
              })
            }
          >
            {sentence("seating/asPlate")}
          </Button>
        )}
        {motion && (
          <Button
            isDisabled={isDisabled}
            onPress={() =>
              edit(set({ motionPx: Math.min(MOST_MOTION, Math.round(2 * motion.px) / 2), motionDeg: Math.round(motion.deg) }), {
                stage: "compose",
                label: message("step.motionAsPlate", { name: layer.name }),
              })
            }
          >
            {sentence("seating/motionAsPlate")}
          </Button>
        )}
        {bleeds ? (
          <Button onPress={() => toLayer(bleeds.id, "content")}>{sentence("seating/toBleed")}</Button>
        ) : (
          told?.platePx && (
            <Button
              isDisabled={isDisabled}
              onPress={() =>
                edit(layBleed(layer.id, told.platePx!, sentence(message("seating/bleedName", { name: layer.name }))), {
                  stage: "compose",
                  label: message("step.bleedLaid", { name: layer.name }),
                })
              }
            >
              {sentence("seating/layBleed")}
            </Button>
          )
        )}
      </RowOf>
      {VALUES.map(({ of: value, name, ...range }) => (
        <MeasuredControl
          key={value}
          {...range}
          name={sentence(name)}
          value={defocus[value]}
          neutral={0}
          isDisabled={isDisabled || (value === "motionDeg" && defocus.motionPx === 0)}
          onPreview={(v) => showLive(set({ [value]: v }))}
          onChange={(v) => edit(set({ [value]: v }), { stage: "compose", label: valueStep(sentence(name), plain(v, range.digits), range.unit) })}
        />
      ))}
      <Soft>{sentence("seating/fieldMeans")}</Soft>
      <RowOf>
        <Button
          isDisabled={isDisabled || metres === null}
          onPress={() =>
            edit(focusAt(metres!, sentence("layering/depthOfField")), { stage: "compose", label: message("step.focusedAt", { name: layer.name }) })
          }
        >
          {sentence("seating/focusHere")}
        </Button>
        {field && <Button onPress={() => toLayer(field.id, "content")}>{sentence("seating/toField")}</Button>}
      </RowOf>
    </Section>
  );
}
