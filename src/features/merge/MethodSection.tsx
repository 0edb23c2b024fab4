"use client";
import { Fragment, useEffect, useMemo, useState } from "react";
import { RESPONSE_KNOTS } from "../../core/merge/fitResponse";
import { focusLeaders } from "../../core/measure/sets/verifySet";
import { FRESH_MERGE } from "../../document/mergeEdits";
import type { MergeRecord, ResponseChoice } from "../../document/records/types";
import { gatheredFrame } from "../../document/sets";
import { frameNumber, mergedFramesOf, relativeEvOf, registrationOf, responseInForce, framesOf } from "../../document/selectors";
import { merge } from "../../session/actions";
import { report, useSession } from "../../session/store";
import { Choice, TextButton } from "../../ui/components/Button";
import { LineChart, type Series } from "../../ui/components/LineChart";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Card, Facts, Figure, Heading, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { percent, plain, signed, withUnit } from "../../ui/format";
import { isCancelled } from "../../workers/client/EngineClient";
import { SeamSection } from "./SeamSection";
import { jumpTo } from "../../view/viewState";
import { ask } from "../../session/openJob";

/** What to know of the method in force, in figures, and what can be set of it. */
export function MethodSection({ record }: { record: MergeRecord }) {
  if (record.method === "radiance") {
    return (
      <>
        <RangeSection record={record} />
        <ResponseSection record={record} />
        <LateralSection record={record} />
        <FringeSection record={record} />
      </>
    );
  }
  if (record.method === "panorama") return <SeamSection record={record} />;
  if (record.method === "fusion") {
    return (
      <>
        <FusionSection record={record} />
        <ResponseSection record={record} />
      </>
    );
  }
  if (record.method === "focus") return <FocusSection />;
  if (record.method === "ground") {
    return (
      <Section>
        <Soft>The base stays as shot. Where a place is taken from another frame, that frame is brought to the light of the base.</Soft>
      </Section>
    );
  }
  return record.noiseGain && <NoiseSection gain={record.noiseGain} />;
}

/** From where noise begins to where the light ends. */
function RangeSection({ record }: { record: MergeRecord }) {
  const records = useSession((s) => s.records);
  const [range, setRange] = useState<{ record: MergeRecord; headroomEv: number; floorEv: number } | null>(null);
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
      <Heading>Dynamic range, {withUnit(plain(headroomEv - floorEv, 1), "EV")}</Heading>
      <Facts>
        <dt>Headroom above white</dt>
        <dd>{withUnit(signed(headroomEv, 1), "EV")}</dd>
        <dt>Floor, where noise equals light</dt>
        <dd>{withUnit(signed(floorEv, 1), "EV")}</dd>
      </Facts>
      <Soft>
        In the view Noise, white is {withUnit("0.4", "%")} of the light and black {withUnit("12", "%")} or more; hatched: every frame is clipped.
      </Soft>
    </Section>
  );
}

/** How codes become light, and the exposures that follow, against what the camera noted. */
function ResponseSection({ record }: { record: MergeRecord }) {
  const { records, busy, readOnly } = useSession();
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
    void merge(record.method, { response: { choice: next, found } }, next === "assumed" ? "Response as the files say" : "Response recovered");
  return (
    <Section>
      <Heading>How the camera saw light</Heading>
      <RowOf role="group" aria-label="Response">
        {(["auto", "assumed", "recovered"] as const).map((c) => (
          <Choice key={c} isSelected={choice === c} isDisabled={busy !== null || readOnly} onChange={() => choice !== c && select(c)}>
            {{ auto: "By measure", assumed: "As the files say", recovered: "As measured" }[c]}
          </Choice>
        ))}
      </RowOf>
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

/** Lateral colour smaller than this at the corners, px, or than so many times its standard error, is none to speak of. Common practice, no source. */
const LEAST_LATERAL_PX = 0.15;
const LEAST_SIGMAS = 4;

function LateralSection({ record }: { record: MergeRecord }) {
  const { busy, readOnly, records } = useSession();
  const found = record.fringe.facts?.lateral;
  const undone = record.fringe.lateral;
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
      <Heading>Lateral colour of the lens</Heading>
      {some || undone ? (
        <>
          <Facts>
            {colours.map(({ colour, px }) => (
              <Fragment key={colour}>
                <dt>{colour === "red" ? "Red at the corners" : "Blue at the corners"}</dt>
                <dd>
                  {withUnit(plain(Math.abs(px), 2), "px")} {px < 0 ? "inwards" : "outwards"}
                </dd>
              </Fragment>
            ))}
          </Facts>
          <RowOf>
            <Choice
              isSelected={undone !== null}
              isDisabled={busy !== null || readOnly}
              onChange={(on) =>
                void merge(
                  "radiance",
                  { fringe: { ...record.fringe, lateral: on && found ? { red: found.red, blue: found.blue } : null } },
                  on ? "Lateral colour undone" : "Lateral colour left",
                )
              }
            >
              Undo it in every frame
            </Choice>
          </RowOf>
          <Soft>Measured against green on the reference as shot. Red and blue are placed apart, before frames are merged.</Soft>
        </>
      ) : (
        <Soft>None to speak of: red and blue lie within {withUnit(plain(Math.max(...colours.map((c) => Math.abs(c.px))), 2), "px")} of green.</Soft>
      )}
    </Section>
  );
}

function FringeSection({ record }: { record: MergeRecord }) {
  const { busy, readOnly } = useSession();
  const { removed, facts } = record.fringe;
  if (!facts) return null;
  const some = facts.share > 0.0002;
  return (
    <Section>
      <Heading>Coloured lines along edges</Heading>
      {some ? (
        <>
          <Facts>
            <dt>Of the picture</dt>
            <dd>{percent(facts.share)}</dd>
            <dt>Width</dt>
            <dd>{withUnit(plain(facts.widthPx, 1), "px")}</dd>
            <dt>Away from both sides by</dt>
            <dd>ΔE {plain(facts.deltaE, 1)}</dd>
          </Facts>
          <RowOf>
            <Choice
              isSelected={removed}
              isDisabled={busy !== null || readOnly}
              onChange={(on) => void merge("radiance", { fringe: { ...record.fringe, removed: on } }, on ? "Coloured lines taken away" : "Coloured lines left")}
            >
              Take them away
            </Choice>
            {facts.worst[0] && (
              <TextButton onPress={() => jumpTo({ x: facts.worst[0].x - 40, y: facts.worst[0].y - 40, width: 80, height: 80 })}>Show the strongest</TextButton>
            )}
          </RowOf>
          <Soft>Only hues that neither side of an edge has are changed; the sky keeps its colour.</Soft>
        </>
      ) : (
        <Soft>None found.</Soft>
      )}
    </Section>
  );
}

function FusionSection({ record }: { record: MergeRecord }) {
  const { busy, readOnly } = useSession();
  const control = (key: "contrast" | "saturation" | "exposedness", name: string) => (
    <MeasuredControl
      key={key}
      name={name}
      unit="power"
      value={record[key]}
      neutral={FRESH_MERGE[key]}
      min={0}
      max={2}
      step={0.05}
      digits={2}
      isDisabled={busy !== null || readOnly}
      onChange={(v) => void merge("fusion", { [key]: v })}
    />
  );
  return (
    <Section>
      <Heading>What counts as well exposed</Heading>
      {control("contrast", "Local contrast")}
      {control("saturation", "Colour strength")}
      {control("exposedness", "Nearness to mid tone")}
    </Section>
  );
}

function NoiseSection({ gain }: { gain: NonNullable<MergeRecord["noiseGain"]> }) {
  return (
    <Section>
      <Heading>Noise</Heading>
      <Facts>
        <dt>Lower by a factor of</dt>
        <dd>{plain(gain.measured, 2)}</dd>
        <dt>√N at best</dt>
        <dd>{plain(gain.ideal, 2)}</dd>
      </Facts>
      <Soft>Measured in the flattest areas, the reference frame against the merge.</Soft>
    </Section>
  );
}

function FocusSection() {
  const records = useSession((s) => s.records);
  const frames = mergedFramesOf(records).map(({ frame }) => gatheredFrame(records, frame));
  const leaders = focusLeaders(frames);
  const gaps = leaders.filter((l) => !l.sharp && l.number !== null);
  const nearest = [...new Set(gaps.map((l) => l.number))];
  return (
    <Section>
      <Heading>Where it is sharp</Heading>
      {gaps.length === 0 ? (
        <Soft>Every part with structure is sharp in one of the frames.</Soft>
      ) : (
        <Card $open>
          In {percent(gaps.length / leaders.length)} of the picture no frame is sharp; nearest {nearest.length === 1 ? "is frame" : "are frames"}{" "}
          {nearest.join(", ")}. The places are outlined.
        </Card>
      )}
      <Soft>Depth shows how far along the stack each place is sharp: dark the first frame, light the last; hatched where nothing stands out.</Soft>
    </Section>
  );
}
