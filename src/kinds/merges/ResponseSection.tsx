"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useMemo } from "react";
import { RESPONSE_KNOTS } from "../../core/merge/fitResponse";
import { framesOf, frameNumber, mergedFramesOf, registrationOf, relativeEvOf, responseInForce } from "../../document/selectors";
import { merge } from "../../session/actions";
import { useSession, usePartsOf } from "../../session/store";
import { LineChart, type Series } from "../../ui/components/LineChart";
import { Choices } from "../../ui/components/Choices";
import { Figure, Heading, Section, Soft, Table } from "../../ui/components/panels";
import { plain, signed, withUnit } from "../../ui/format";
import type { ResponseChoice } from "./fields";
import type { MergeOf } from "./records";

/** How codes become light, and the exposures that follow, against what the camera noted. */
export function ResponseSection({ record }: { record: MergeOf<"radiance"> | MergeOf<"fusion"> }) {
  const { records, isBusy, readOnly } = usePartsOf("records", "isBusy", "readOnly");
  const { choice, found } = record.response;
  const inForce = responseInForce(records);
  const curves = useMemo<Series[]>(
    () =>
      (found?.deviationEv ?? []).map((d, k) => ({
        label: sentence("merge/deviation"),
        color: "#141414",
        dash: k ? [5 - 2 * k, 2] : [],
        // below the first codes nothing was measured
        points: d.map((v, i) => ({ x: (255 * i) / (RESPONSE_KNOTS - 1), y: v })).slice(2),
      })),
    [found],
  );
  const select = (next: ResponseChoice) =>
    void merge(record.method, { response: { choice: next, found } }, next === "assumed" ? "step.responseStated" : "step.responseRecovered");
  return (
    <Section>
      <Heading>{sentence("merge/howCameraSawLight")}</Heading>
      <Choices
        label={sentence("merge/response")}
        items={[
          { id: "auto", label: sentence("merge/byMeasure") },
          { id: "assumed", label: sentence("merge/filesSay") },
          { id: "recovered", label: sentence("common/asMeasured") },
        ]}
        chosen={choice}
        isDisabled={isBusy || readOnly}
        onChoose={select}
      />
      {found ? (
        <>
          <LineChart
            summary={sentence("merge/evByMeasuredResponse")}
            series={curves}
            xTitle={sentence("merge/codeAxis")}
            yTitle={sentence("merge/evApart")}
            xMin={0}
            xMax={255}
            xStep={85}
            height={92}
            signed
          />
          <Soft>
            {inForce
              ? sentence(
                  message("merge/framesDisagreeByCurve", {
                    beforeEv: withUnit(plain(found.beforeEv, 3), "EV"),
                    afterEv: withUnit(plain(found.afterEv, 3), "EV"),
                    value: record.method === "fusion" ? sentence("merge/whatMovedToldBy") : sentence("merge/oneUsed"),
                    isTold: found.exposuresTold ? "yes" : "no",
                  }),
                )
              : sentence(
                  message("merge/curveFilesNameHolds", {
                    beforeEv: withUnit(plain(found.beforeEv, 3), "EV"),
                    afterEv: withUnit(plain(found.afterEv, 3), "EV"),
                  }),
                )}
          </Soft>
        </>
      ) : (
        <Soft>{choice === "assumed" ? sentence("merge/filesOwnCurveUsed") : sentence("merge/framesLinearShareToo")}</Soft>
      )}
      <Exposures />
    </Section>
  );
}

function Exposures() {
  const records = useSession((s) => s.records);
  const response = responseInForce(records);
  const reference = framesOf(records).find((f) => f.id === registrationOf(records)?.referenceId);
  return (
    <Table aria-label={sentence("merge/exposures")}>
      <thead>
        <tr>
          <th>{sentence("common/frame")}</th>
          <th>{sentence("merge/noted")}</th>
          <th>{sentence("common/measured")}</th>
        </tr>
      </thead>
      <tbody>
        {mergedFramesOf(records).map(({ frame }) => {
          const noted = frame.meteredEv !== null && reference?.meteredEv != null ? frame.meteredEv - reference.meteredEv : null;
          const measured = response?.relativeEv[frame.id] ?? relativeEvOf(records, frame.id);
          const off = noted !== null && Math.abs(noted - measured) > 0.06;
          return (
            <tr key={frame.id}>
              <td>
                <Figure value={String(frameNumber(records, frame.id))} />
              </td>
              <td>
                <Figure value={noted === null ? sentence("merge/notNoted") : withUnit(signed(noted, 2), "EV")} />
              </td>
              <td>
                <Figure
                  value={withUnit(signed(measured, 2), "EV")}
                  word={off ? sentence(message("merge/againstTheNote", { measured: signed(measured - noted, 2) })) : ""}
                />
              </td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}
