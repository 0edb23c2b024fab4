"use client";
import { message } from "../../messages/message";
import { sentence, title } from "../../messages/sentence";
import { hasLens } from "../../core/geometry/lens";
import { MODELS, type ModelChoice } from "../../core/register/models";
import type { FramePlacement, RegistrationRecord } from "../../document/records/types";
import { frameNumber } from "../../document/selectors";
import { register } from "../../session/actions";
import { usePartsOf } from "../../session/store";
import { Button } from "../../ui/components/Button";
import { Select } from "../../ui/components/Select";
import { Card, Facts, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { percent, plain, signed, withUnit } from "../../ui/format";

const CHOICES: { id: ModelChoice; label: string }[] = [
  { id: "auto", label: sentence("register/simplestExplains") },
  ...MODELS.map((id) => ({ id, label: title(`model.${id}`) })),
];

/** The chosen frame's figures and how it may differ from the reference. */
export function PlacementBench({ registration, chosen, onHand }: { registration: RegistrationRecord; chosen: FramePlacement; onHand: () => void }) {
  const { records, isBusy, readOnly } = usePartsOf("records", "isBusy", "readOnly");
  const number = frameNumber(records, chosen.frameId);
  const isReference = chosen.frameId === registration.referenceId;
  const blocked = isBusy || readOnly;
  const away = chosen.shifts.filter((s) => s[4] < 0.6 || Math.hypot(s[2], s[3]) > 1.5).length;
  const best = Math.min(...chosen.models.map((m) => m.rmsPx));
  return (
    <>
      <Section>
        <Heading>{sentence(message("register/frameNumber", { number, isReference: isReference ? "yes" : "no" }))}</Heading>
        {isReference ? <Soft>{sentence(registration.referenceReason)}</Soft> : chosen.reason ? <Card $open>{sentence(chosen.reason)}</Card> : null}
        {!isReference && chosen.registered && (
          <Facts style={{ marginTop: 6 }}>
            {!chosen.drift && (
              <>
                <dt>{sentence("register/outliers")}</dt>
                <dd>{sentence(message("common/partOf", { part: away, whole: chosen.shifts.length }))}</dd>
              </>
            )}
            <dt>{sentence("register/confidence")}</dt>
            <dd>{percent(chosen.confidence)}</dd>
            {hasLens(chosen.lens) && (
              <>
                <dt>{sentence("register/lensAgainstReference")}</dt>
                <dd>
                  k1 {signed(chosen.lens.k1, 4)}, {chosen.lens.k1 < 0 ? sentence("register/barrel") : sentence("register/cushion")}
                </dd>
              </>
            )}
          </Facts>
        )}
        {chosen.otherPx.length > 0 && (
          <Card $open>
            {sentence(
              message("register/whatTheseFramesShow", {
                distance: withUnit(plain(chosen.otherPx[0], 0), "px"),
                count: chosen.otherPx.length - 1,
              }),
            )}
          </Card>
        )}
        {!isReference && (
          <RowOf>
            <Button isDisabled={blocked} onPress={onHand}>
              {sentence("register/placeByHand")}
            </Button>
            <Button isDisabled={blocked} onPress={() => void register(chosen.frameId)}>
              {sentence("register/makeReference")}
            </Button>
          </RowOf>
        )}
      </Section>
      <Section>
        <Heading>{sentence("register/howFramesMayDiffer")}</Heading>
        <Select
          label={sentence("register/model")}
          items={CHOICES}
          chosen={registration.model}
          isDisabled={blocked}
          onChoose={(model) => void register(registration.referenceId, model)}
        />
        {chosen.models.length > 0 && (
          <Facts style={{ marginTop: 6 }}>
            {chosen.models.map((m) => (
              <div key={m.model} style={{ display: "contents" }}>
                <dt>{m.model === chosen.model ? sentence(message("register/taken", { model: title(`model.${m.model}`) })) : title(`model.${m.model}`)}</dt>
                <dd style={{ fontWeight: m.model === chosen.model ? 600 : 400 }}>{withUnit(plain(m.rmsPx, m.rmsPx < best + 1 ? 2 : 1), "px")}</dd>
              </div>
            ))}
          </Facts>
        )}
      </Section>
    </>
  );
}
