"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { computeOn, letPicturesGo } from "../../session/jobs";
import { usePartsOf } from "../../session/store";
import { mostThreads, threadChoices } from "../../session/threads";
import { Button } from "../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { bytes } from "../../ui/format";

/** What Marsh takes of this machine. */
export function Machine() {
  const { rasterUse, threads } = usePartsOf("rasterUse", "threads");
  const most = mostThreads();
  return (
    <Section>
      <Heading>{sentence("jobs/thisMachine")}</Heading>
      {rasterUse && <Soft>{sentence(message("jobs/intermediatePicturesTakeMost", { size: bytes(rasterUse.bytes), size2: bytes(rasterUse.budget) }))}</Soft>}
      {most > 1 && (
        <Select
          label={sentence("jobs/computeOn")}
          inline
          items={threadChoices(most).map((n) => ({
            id: String(n),
            label: n === most ? sentence(message("jobs/allCoresCount", { count: n })) : sentence(message("jobs/coresCount", { count: n })),
          }))}
          chosen={String(threads ?? most)}
          onChoose={(id: string) => computeOn(Number(id) === most ? null : Number(id))}
        />
      )}
      {rasterUse && rasterUse.bytes > 0 && (
        <RowOf>
          <Button onPress={() => void letPicturesGo()}>{sentence("jobs/letIntermediatePicturesGo")}</Button>
        </RowOf>
      )}
    </Section>
  );
}
