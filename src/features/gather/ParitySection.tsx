"use client";
import { sentence, title } from "../../messages/sentence";
import { message, written } from "../../messages/message";
import { useState } from "react";
import { canBeMadeEqual, type ParityAspect, type ParityDifference } from "../../core/measure/sets/parity";
import { acceptDifference, removeRecord } from "../../document/edits";
import { summarizeSet } from "../../document/sets";
import { setRecord } from "../../kinds/sets/records";
import { framesOfSet, workingSetOf } from "../../document/selectors";
import { compareSet, makeEqual } from "../../session/comparing";
import { edit } from "../../session/openJob";
import { useSession, usePartsOf } from "../../session/store";
import { Button, TextButton } from "../../ui/components/Button";
import { Card, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { tokens } from "../../ui/tokens/tokens";

/** What differs between the frames of the set, and what to do about it. Only geometry holds up registration. */
export function ParitySection({ onChoose }: { onChoose: (id: string) => void }) {
  const { records, isBusy, readOnly } = usePartsOf("records", "isBusy", "readOnly");
  const set = workingSetOf(records);
  const { differences, accepted, incomparable } = summarizeSet(records);
  if (!set) return null;
  const compared = sentence(message("gather/sizeRotationScaleLens", { comparesTone: setRecord(set.setKind).comparesTone ? "yes" : "no" }));
  return (
    <Section>
      <Heading>{sentence("gather/doFramesMatch")}</Heading>
      <Soft>
        {!set.parity
          ? sentence(message("gather/haveNotBeenCompared", { compared }))
          : differences.length
            ? sentence("gather/geometryHasSettledBefore")
            : incomparable.length
              ? sentence("gather/whatCouldComparedMatches")
              : sentence(message("gather/matchCompared", { compared }))}
      </Soft>
      {set.parity && incomparable.length > 0 && <Card $open>{sentence(message("gather/frameCouldNotLaid", { value: incomparable.join(", ") }))}</Card>}
      {differences.map((d) => (
        <Difference key={d.aspect} difference={d} setId={set.id} isDisabled={readOnly || isBusy} onChoose={onChoose} />
      ))}
      {accepted.map((a) => (
        <Soft key={a.id} style={{ marginTop: 6 }}>
          {title(`aspect.${a.aspect as ParityAspect}`)}: {sentence(a.reason)}{" "}
          <TextButton isDisabled={readOnly} onPress={() => edit(removeRecord(a.id), { stage: "gather", label: "step.openAgain" })}>
            {sentence("common/openAgain")}
          </TextButton>
        </Soft>
      ))}
      <RowOf>
        <Button isDisabled={readOnly || isBusy} onPress={() => void compareSet()}>
          {set.parity ? sentence("gather/compareAgain") : sentence("gather/compareTheFrames")}
        </Button>
      </RowOf>
    </Section>
  );
}

function Difference(props: { difference: ParityDifference; setId: string; isDisabled: boolean; onChoose: (id: string) => void }) {
  const { difference: d, setId, isDisabled, onChoose } = props;
  const [reason, setReason] = useState<string | null>(null);
  const records = useSession((s) => s.records);
  const members = framesOfSet(records, setId);
  const name = title(`aspect.${d.aspect}`);
  return (
    <Card $open>
      <strong>{d.geometric ? sentence(message("gather/holdsUpRegistering", { name })) : name}</strong>
      {d.frames.map((f) => (
        <div key={f.frameId}>
          <TextButton onPress={() => onChoose(f.frameId)}>{sentence(message("common/frameNumber", { number: f.number }))}</TextButton>{" "}
          {d.usual ? sentence(message("gather/isTheOthersAre", { what: f.what, usual: d.usual })) : sentence(message("gather/is", { what: f.what }))}
        </div>
      ))}
      {d.aspect === "colorSpace" && <Soft>{sentence("gather/eachConvertedByIts")}</Soft>}
      {d.aspect === "software" && <Soft>{sentence("gather/versionsDevelopDifferentlyTone")}</Soft>}
      {d.aspect === "sharpening" && <Soft>{sentence("gather/onlySourceCanChange")}</Soft>}
      {reason === null ? (
        <RowOf>
          {canBeMadeEqual(d.aspect, members) && (
            <Button isDisabled={isDisabled} onPress={() => void makeEqual(d)}>
              {sentence("gather/correct")}
            </Button>
          )}
          <Button isDisabled={isDisabled} onPress={() => setReason("")}>
            {sentence("gather/keep")}
          </Button>
        </RowOf>
      ) : (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            if (reason.trim())
              edit(acceptDifference(setId, d.aspect, written(reason.trim())), {
                stage: "gather",
                label: message("step.kept", { aspect: message(`aspect.${d.aspect}`, {}) }),
                note: reason.trim(),
              });
          }}
        >
          <label style={{ display: "block", marginTop: 8, fontSize: tokens.size.small }}>
            {sentence("gather/whyDoTheyDiffer")}
            <input
              autoFocus
              value={reason}
              maxLength={300}
              onChange={(e) => setReason(e.target.value)}
              style={{ width: "100%", background: tokens.panel, border: `1px solid ${tokens.lineStrong}` }}
            />
          </label>
          <RowOf>
            <Button type="submit" isDisabled={!reason.trim()}>
              {sentence("gather/keepReason")}
            </Button>
            <Button onPress={() => setReason(null)}>{sentence("common/back")}</Button>
          </RowOf>
        </form>
      )}
    </Card>
  );
}
