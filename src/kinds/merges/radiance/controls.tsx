"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { Fragment, useEffect, useState } from "react";
import { framesOf, registrationOf } from "../../../document/selectors";
import { merge } from "../../../session/actions";
import { ask } from "../../../session/openJob";
import { report, useSession, usePartsOf } from "../../../session/store";
import { Choice, TextButton } from "../../../ui/components/Button";
import { Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { percent, plain, signed, withUnit } from "../../../ui/format";
import { jumpTo } from "../../../view/viewState";
import { isCancelled } from "../../../workers/client/EngineClient";
import type { ControlsProps, MergeControls } from "../controlling";
import type { MergeOf } from "../records";
import { ResponseSection } from "../ResponseSection";

function RadianceControls({ record }: ControlsProps<"radiance">) {
  return (
    <>
      <RangeSection record={record} />
      <ResponseSection record={record} />
      <LateralSection record={record} />
      <FringeSection record={record} />
    </>
  );
}

/** From where noise begins to where the light ends. */
function RangeSection({ record }: { record: MergeOf<"radiance"> }) {
  const records = useSession((s) => s.records);
  const [range, setRange] = useState<{ record: MergeOf<"radiance">; headroomEv: number; floorEv: number } | null>(null);
  useEffect(() => {
    const controller = new AbortController();
    ask("radianceRange", { records }, { signal: controller.signal }).then(
      (found) => !controller.signal.aborted && setRange({ record, ...found }),
      (error) => !isCancelled(error) && report(error),
    );
    return () => controller.abort();
  }, [records, record]);
  if (range?.record !== record) return null;
  const { headroomEv, floorEv } = range;
  return (
    <Section>
      <Heading>{sentence(message("merge/dynamicRangeHeadroomEv", { headroomEv: withUnit(plain(headroomEv - floorEv, 1), "EV") }))}</Heading>
      <Facts>
        <dt>{sentence("merge/headroomAboveWhite")}</dt>
        <dd>{withUnit(signed(headroomEv, 1), "EV")}</dd>
        <dt>{sentence("merge/floorWhereNoiseEquals")}</dt>
        <dd>{withUnit(signed(floorEv, 1), "EV")}</dd>
      </Facts>
      <Soft>{sentence(message("merge/viewNoiseWhiteLight", { value: withUnit("0.4", "%"), value2: withUnit("12", "%") }))}</Soft>
    </Section>
  );
}

/** Lateral colour smaller than this at the corners, px, or than so many times its standard error, is none to speak of. Common practice, no source. */
const LEAST_LATERAL_PX = 0.15;
const LEAST_SIGMAS = 4;

function LateralSection({ record }: { record: MergeOf<"radiance"> }) {
  const { isBusy, readOnly, records } = usePartsOf("isBusy", "readOnly", "records");
  const found = record.fringe.facts?.lateral;
  const undone = record.lateral;
  const reference = framesOf(records).find((f) => f.id === registrationOf(records)?.referenceId);
  if (!reference || (!found && !undone)) return null;
  const corner = Math.hypot(reference.width, reference.height) / 2;
  const colours = (["red", "blue"] as const).map((colour) => {
    const larger = (found ?? undone!)[colour];
    return {
      colour,
      px: larger * corner,
      plain: !found || (Math.abs(larger) * corner >= LEAST_LATERAL_PX && Math.abs(larger) >= LEAST_SIGMAS * found.sigma[colour]),
    };
  });
  const some = colours.some((c) => c.plain);
  return (
    <Section>
      <Heading>{sentence("merge/lateralColourLens")}</Heading>
      {some || undone ? (
        <>
          <Facts>
            {colours.map(({ colour, px }) => (
              <Fragment key={colour}>
                <dt>{colour === "red" ? sentence("merge/redCorners") : sentence("merge/blueCorners")}</dt>
                <dd>
                  {withUnit(plain(Math.abs(px), 2), "px")} {px < 0 ? sentence("merge/inwards") : sentence("merge/outwards")}
                </dd>
              </Fragment>
            ))}
          </Facts>
          <RowOf>
            <Choice
              isSelected={undone !== null}
              isDisabled={isBusy || readOnly}
              onChange={(on) =>
                void merge("radiance", { lateral: on && found ? { red: found.red, blue: found.blue } : null }, on ? "step.lateralUndone" : "step.lateralLeft")
              }
            >
              {sentence("merge/undoEveryFrame")}
            </Choice>
          </RowOf>
          <Soft>{sentence("merge/measuredAgainstGreenOn")}</Soft>
        </>
      ) : (
        <Soft>{sentence(message("merge/noneSpeakRedBlue", { value: withUnit(plain(Math.max(...colours.map((c) => Math.abs(c.px))), 2), "px") }))}</Soft>
      )}
    </Section>
  );
}

function FringeSection({ record }: { record: MergeOf<"radiance"> }) {
  const { isBusy, readOnly } = usePartsOf("isBusy", "readOnly");
  const { removed, facts } = record.fringe;
  if (!facts) return null;
  const some = facts.share > 0.0002;
  return (
    <Section>
      <Heading>{sentence("merge/colouredLinesAlongEdges")}</Heading>
      {some ? (
        <>
          <Facts>
            <dt>{sentence("common/ofThePicture")}</dt>
            <dd>{percent(facts.share)}</dd>
            <dt>{sentence("merge/width")}</dt>
            <dd>{withUnit(plain(facts.widthPx, 1), "px")}</dd>
            <dt>{sentence("merge/awayFromBothSides")}</dt>
            <dd>ΔE {plain(facts.deltaE, 1)}</dd>
          </Facts>
          <RowOf>
            <Choice
              isSelected={removed}
              isDisabled={isBusy || readOnly}
              onChange={(on) => void merge("radiance", { fringe: { ...record.fringe, removed: on } }, on ? "step.fringeRemoved" : "step.fringeLeft")}
            >
              {sentence("merge/takeThemAway")}
            </Choice>
            {facts.worst[0] && (
              <TextButton onPress={() => jumpTo({ x: facts.worst[0].x - 40, y: facts.worst[0].y - 40, width: 80, height: 80 })}>
                {sentence("merge/showTheStrongest")}
              </TextButton>
            )}
          </RowOf>
          <Soft>{sentence("merge/onlyHuesNeitherSide")}</Soft>
        </>
      ) : (
        <Soft>{sentence("merge/noneFound")}</Soft>
      )}
    </Section>
  );
}

export const radiance: MergeControls<"radiance"> = { Controls: RadianceControls, maps: [{ id: "confidence", label: sentence("common/noise") }] };
