"use client";
import { share } from "../../kinds/values";
import { useMemo, useState } from "react";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { valueStep } from "../../messages/valueStep";
import { MOST_PAIRS } from "../../core/match/pairs";
import type { Ends, MatchFigures } from "../../core/match/figures";
import { updateLayer } from "../../document/layerEdits";
import { layPictureMatch, sameWithoutLook } from "../../document/matchEdits";
import type { FrameRecord } from "../../document/records/types";
import { finishPinsOf, framesOf, lookOf, pairsOf, workingSetIdOf } from "../../document/selectors";
import type { MatchMethod } from "../../engine/operations/match/matchPictures";
import { ADJUSTMENT_WORDS } from "../../kinds/adjustments/words";
import { gatherBeside } from "../../session/gathering";
import { showLive } from "../../session/live";
import { compareOutput, type ComparedPicture } from "../../session/matching";
import { edit } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { Button, Choice } from "../../ui/components/Button";
import { Choices } from "../../ui/components/Choices";
import { FilePicker } from "../../ui/components/FilePicker";
import { LineChart, type Series } from "../../ui/components/LineChart";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Card, Heading, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { plain, signed } from "../../ui/format";

const HOW = ["itself", "places", "pairs", "colours", "steps"] as const;
type How = (typeof HOW)[number];
const methodOf = (how: How): MatchMethod | null => (how === "itself" ? null : how);

/** The frames whose look may be wanted: those that are not worked on. */
export const referencesOf = (records: Parameters<typeof framesOf>[0]): FrameRecord[] => framesOf(records).filter((f) => f.setId !== workingSetIdOf(records));

/** Brings the picture to another one's tones and colours: both are compared, and what is proposed is laid over all as ordinary adjustments. */
export function ReferenceSection(props: { referenceId: string | null; onChoose: (id: string) => void; isMarking: boolean; onMark: (on: boolean) => void }) {
  const { referenceId, onChoose, isMarking, onMark } = props;
  const { records, readOnly, isBusy } = usePartsOf("records", "readOnly", "isBusy");
  const [how, setHow] = useState<How>("itself");
  const [compared, setCompared] = useState<ComparedPicture | null>(null);
  const references = referencesOf(records);
  const chosen = references.find((f) => f.id === referenceId) ?? references[0];
  const look = lookOf(records);
  const pairs = chosen ? pairsOf(records, chosen.id) : [];
  const numbers = finishPinsOf(records);
  const shown = compared && compared.referenceId === chosen?.id ? compared : null;
  const isStale = shown !== null && !sameWithoutLook(shown.records, records);
  const compare = async (by: How) => {
    const found = chosen && (await compareOutput(chosen.id, methodOf(by)));
    if (found) setCompared(found);
  };
  const lay = ({ told }: ComparedPicture) => {
    const names = told.adjustments.map(({ adjustment }) => ADJUSTMENT_WORDS[adjustment].name);
    const name = sentence(message("finish/lookOf", { name: chosen.fileName }));
    edit(layPictureMatch(told.adjustments, names, name, look?.opacity ?? 1), { stage: "finish", label: message("step.lookTaken", { name: chosen.fileName }) });
  };
  const add = async (file: File | undefined) => {
    const [id] = file ? await gatherBeside([{ name: file.name, file }]) : [];
    if (id) onChoose(id);
  };
  return (
    <Section>
      <Heading>{sentence("finish/reference")}</Heading>
      <Soft>{sentence("finish/referenceMeans")}</Soft>
      {references.length > 0 && (
        <Select
          label={sentence("finish/referencePicture")}
          items={references.map(({ id, fileName }) => ({ id, label: fileName }))}
          chosen={chosen.id}
          onChoose={onChoose}
        />
      )}
      <RowOf>
        {chosen && (
          <Button isDisabled={isBusy || (how === "pairs" && pairs.length === 0)} onPress={() => void compare(how)}>
            {sentence(shown ? "seating/compareAgain" : "finish/compareReference")}
          </Button>
        )}
        <FilePicker isDisabled={readOnly || isBusy} onFiles={(files) => void add(files[0])}>
          {sentence("compose/pictureFromFile")}
        </FilePicker>
      </RowOf>
      {chosen && (
        <>
          <Choices<How>
            label={sentence("finish/matchedBy")}
            items={HOW.map((id) => ({ id, label: sentence(`finish/matchBy.${id}`) }))}
            chosen={how}
            isDisabled={isBusy}
            onChoose={(by) => {
              setHow(by);
              // without pairs there is nothing to go by yet
              if (shown && (by !== "pairs" || pairs.length > 0)) void compare(by);
            }}
          />
          <Soft>{sentence(`finish/matchByMeans.${how}`)}</Soft>
          {how === "pairs" && (
            <RowOf>
              <Choice isSelected={isMarking} isDisabled={readOnly || (!isMarking && pairs.length >= MOST_PAIRS)} onChange={onMark}>
                {sentence("finish/markPairs")}
              </Choice>
            </RowOf>
          )}
        </>
      )}
      {isStale && <Card>{sentence("seating/matchStale")}</Card>}
      {shown && !isStale && (
        <>
          <Told {...shown} />
          {shown.told.residuals.map((left, i) => (
            <Soft key={i}>{sentence(message("finish/pairLeaves", { number: numbers.indexOf(pairs[i]) + 1, deltaE: plain(left, 1) }))}</Soft>
          ))}
          <RowOf>
            <Button isDisabled={readOnly || isBusy || shown.told.adjustments.length === 0} onPress={() => lay(shown)}>
              {sentence(look ? "finish/layLookAgain" : "finish/layLook")}
            </Button>
          </RowOf>
        </>
      )}
      {look && (
        <MeasuredControl
          name={sentence("finish/lookStrength")}
          {...share(1)}
          value={look.opacity}
          isDisabled={readOnly}
          onPreview={(opacity) => showLive(updateLayer(look.id, { opacity }))}
          onChange={(opacity) =>
            edit(updateLayer(look.id, { opacity }), { stage: "finish", label: valueStep(sentence("finish/lookStrength"), plain(100 * opacity, 0), "%") })
          }
        />
      )}
    </Section>
  );
}

const CHANNELS = ["mono", "red", "green", "blue", "chroma"] as const;
type Channel = (typeof CHANNELS)[number];
const ENDS = ["white", "middle", "black"] as const;
const TONES = ["light", "middle", "dark"] as const;

const endsOf = (figures: MatchFigures, channel: Exclude<Channel, "chroma">): Ends =>
  channel === "mono" ? figures.mono : figures.channels[CHANNELS.indexOf(channel) - 1];

/** Both sides as figures and as a line of tones, and what a match would leave. */
function Told({ told }: ComparedPicture) {
  const [channel, setChannel] = useState<Channel>("mono");
  const { before, after, reference, deltaE, method } = told;
  const series = useMemo<Series[]>(
    () =>
      [
        { of: reference, label: sentence("finish/referencePicture"), color: "#141414", dash: [] },
        { of: before, label: sentence("finish/asItIs"), color: "#4a2100", dash: [6, 3] },
        { of: after, label: sentence("finish/onceMatched"), color: "#033022", dash: [2, 2] },
      ].map(({ of, ...line }) => ({ ...line, points: of.lightness.map((y, k) => ({ x: 5 + 10 * k, y })) })),
    [before, after, reference],
  );
  const sides = [before, reference, after];
  return (
    <>
      <Soft>
        {sentence(
          deltaE
            ? message("finish/matchedPlaces", { before: plain(deltaE.before, 1), after: plain(deltaE.after, 1) })
            : message(`finish/matchedBy.${method}`, {}),
        )}
      </Soft>
      <LineChart
        summary={sentence("finish/tonesChart")}
        series={series}
        xTitle={sentence("finish/shareOfPicture")}
        yTitle="L*"
        xMin={0}
        xMax={100}
        xStep={20}
        yMax={100}
        height={120}
      />
      <Soft>{sentence("finish/tonesLines")}</Soft>
      <Choices<Channel>
        label={sentence("finish/figuresOf")}
        items={CHANNELS.map((id) => ({ id, label: sentence(`finish/channel.${id}`) }))}
        chosen={channel}
        onChoose={setChannel}
      />
      <Table aria-label={sentence("finish/reference")}>
        <thead>
          <tr>
            <th scope="col">{channel === "chroma" ? "C*" : "EV"}</th>
            <th scope="col">{sentence("finish/now")}</th>
            <th scope="col">{sentence("finish/wanted")}</th>
            <th scope="col">{sentence("finish/matched")}</th>
          </tr>
        </thead>
        <tbody>
          {channel === "chroma"
            ? TONES.map((tone, k) => (
                <tr key={tone}>
                  <th scope="row">{sentence(`finish/tone.${tone}`)}</th>
                  {sides.map((f, i) => (
                    <td key={i}>{f.tones[2 - k].share > 0 ? plain(f.tones[2 - k].chroma, 0) : "–"}</td>
                  ))}
                </tr>
              ))
            : ENDS.map((end) => (
                <tr key={end}>
                  <th scope="row">{sentence(`seating/end.${end}`)}</th>
                  {sides.map((f, i) => (
                    <td key={i}>{signed(endsOf(f, channel)[end], 1)}</td>
                  ))}
                </tr>
              ))}
        </tbody>
      </Table>
    </>
  );
}
