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
  const compared = `Size, rotation, scale, lens, white balance, ${setRecord(set.setKind).comparesTone ? "tone response, " : ""}colour space and sharpening`;
  return (
    <Section>
      <Heading>Do the frames match?</Heading>
      <Soft>
        {!set.parity
          ? `${compared} have not been compared yet.`
          : differences.length
            ? "Geometry has to be settled before registering; colour and tone may differ for good reasons."
            : incomparable.length
              ? "What could be compared matches."
              : `${compared} match.`}
      </Soft>
      {set.parity && incomparable.length > 0 && (
        <Card $open>Frame {incomparable.join(", ")} could not be laid on the others, so its rotation, scale, lens and light are not known.</Card>
      )}
      {differences.map((d) => (
        <Difference key={d.aspect} difference={d} setId={set.id} isDisabled={readOnly || isBusy} onChoose={onChoose} />
      ))}
      {accepted.map((a) => (
        <Soft key={a.id} style={{ marginTop: 6 }}>
          {title(`aspect.${a.aspect as ParityAspect}`)}: {sentence(a.reason)}{" "}
          <TextButton isDisabled={readOnly} onPress={() => edit(removeRecord(a.id), { stage: "gather", label: "step.openAgain" })}>
            Open again
          </TextButton>
        </Soft>
      ))}
      <RowOf>
        <Button isDisabled={readOnly || isBusy} onPress={() => void compareSet()}>
          {set.parity ? "Compare again" : "Compare the frames"}
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
      <strong>{name}</strong>
      {d.geometric ? ", holds up registering" : ""}
      {d.frames.map((f) => (
        <div key={f.frameId}>
          <TextButton onPress={() => onChoose(f.frameId)}>Frame {f.number}</TextButton> {sentence(f.what)}
          {d.usual && `; the others: ${sentence(d.usual)}`}.
        </div>
      ))}
      {d.aspect === "colorSpace" && <Soft>Each is converted by its own profile, so the pixels agree.</Soft>}
      {d.aspect === "software" && <Soft>Versions develop differently: tone, colour and sharpening may too. The same program for all is safest.</Soft>}
      {d.aspect === "sharpening" && <Soft>Only the source can change this: develop again without sharpening, or leave the frame out.</Soft>}
      {reason === null ? (
        <RowOf>
          {canBeMadeEqual(d.aspect, members) && (
            <Button isDisabled={isDisabled} onPress={() => void makeEqual(d)}>
              Correct
            </Button>
          )}
          <Button isDisabled={isDisabled} onPress={() => setReason("")}>
            Keep
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
            Why do they differ?
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
              Keep with this reason
            </Button>
            <Button onPress={() => setReason(null)}>Back</Button>
          </RowOf>
        </form>
      )}
    </Card>
  );
}
