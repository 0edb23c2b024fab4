"use client";
import { computeOn, letPicturesGo } from "../../session/jobs";
import { usePartsOf } from "../../session/store";
import { mostThreads, threadChoices } from "../../session/threads";
import { Button } from "../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { bytes, counted } from "../../ui/format";

/** What Marsh takes of this machine. */
export function Machine() {
  const { rasterUse, threads } = usePartsOf("rasterUse", "threads");
  const most = mostThreads();
  return (
    <Section>
      <Heading>This machine</Heading>
      {rasterUse && (
        <Soft>
          {`Intermediate pictures take ${bytes(rasterUse.bytes)} of at most ${bytes(rasterUse.budget)}. Those used longest ago go first; what is needed again is made again.`}
        </Soft>
      )}
      {most > 1 && (
        <Select
          label="Compute on"
          inline
          items={threadChoices(most).map((n) => ({ id: String(n), label: n === most ? `all ${n} cores` : counted(n, "core") }))}
          chosen={String(threads ?? most)}
          onChoose={(id: string) => computeOn(Number(id) === most ? null : Number(id))}
        />
      )}
      {rasterUse && rasterUse.bytes > 0 && (
        <RowOf>
          <Button onPress={() => void letPicturesGo()}>Let intermediate pictures go</Button>
        </RowOf>
      )}
    </Section>
  );
}
