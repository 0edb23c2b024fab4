"use client";
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
        label: "deviation",
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
      <Heading>How the camera saw light</Heading>
      <Choices
        label="Response"
        items={[
          { id: "auto", label: "By measure" },
          { id: "assumed", label: "As the files say" },
          { id: "recovered", label: "As measured" },
        ]}
        chosen={choice}
        isDisabled={isBusy || readOnly}
        onChoose={select}
      />
      {found ? (
        <>
          <LineChart
            summary="EV by which the measured response differs from the one the files name, by code"
            series={curves}
            xTitle="code 0 to 255"
            yTitle="EV apart"
            xMin={0}
            xMax={255}
            xStep={85}
            height={92}
            signed
          />
          <Soft>
            {inForce
              ? `The frames disagree by ${withUnit(plain(found.beforeEv, 3), "EV")} with the curve their files name, by ${withUnit(plain(found.afterEv, 3), "EV")} with the one measured; ${record.method === "fusion" ? "what moved is told by that one" : "that one is used"}.`
              : `The curve the files name holds: frames agree to ${withUnit(plain(found.beforeEv, 3), "EV")}, a measured one would reach ${withUnit(plain(found.afterEv, 3), "EV")}.`}
            {inForce && !found.exposuresTold && " Exposures are not noted in the files, so its steepness is a guess."}
          </Soft>
        </>
      ) : (
        <Soft>{choice === "assumed" ? "The files' own curve is used." : "The frames are linear or share too little light for a response to be measured."}</Soft>
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
    <Table aria-label="Exposures">
      <thead>
        <tr>
          <th>Frame</th>
          <th>Noted</th>
          <th>Measured</th>
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
                <Figure value={noted === null ? "not noted" : withUnit(signed(noted, 2), "EV")} />
              </td>
              <td>
                <Figure value={withUnit(signed(measured, 2), "EV")} word={off ? `${signed(measured - noted, 2)} against the note` : ""} />
              </td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}
