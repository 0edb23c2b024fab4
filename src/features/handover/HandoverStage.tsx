"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { lightMethod } from "../../kinds/merges/records";
import { useState } from "react";
import { documentSize, mergeOf } from "../../document/selectors";
import { outputGeometry } from "../../document/outputGeometry";
import { SPACES, type ExportSpace } from "../../core/color/outputSpaces";
import type { ExportSettings } from "../../engine/operations/deliver/exportPicture";
import { download } from "../../session/download";
import { fileBase, saveJobFile } from "../../session/jobCopy";
import { openJobFromFile } from "../../session/jobs";
import { openFindingsOf } from "../../document/finding";
import { ask, runTask, setStage } from "../../session/openJob";
import { canShare, share } from "../../session/share";
import { useSession, usePartsOf } from "../../session/store";
import { Button, PrimaryButton } from "../../ui/components/Button";
import { Choices } from "../../ui/components/Choices";
import { FilePicker } from "../../ui/components/FilePicker";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Ledger, LedgerCell, LedgerRow } from "../../ui/components/Ledger";
import { Card, Figure, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { bytes, clock, megapixels, percent, pixels } from "../../ui/format";
import { PictureView } from "../../view/PictureView";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";

type Kind = ExportSettings["format"];
const KINDS: Record<"tiff16" | "png16" | "jpeg" | "hdr", { name: string; word: string; extension: string; type: string; about: string }> = {
  tiff16: {
    name: sentence("handover/tiff16Bit"),
    word: sentence("handover/printFurtherWork"),
    extension: "tif",
    type: "image/tiff",
    about: sentence("handover/everyValueComputedDeflate"),
  },
  png16: {
    name: sentence("handover/png16Bit"),
    word: sentence("handover/losslessReadEverywhere"),
    extension: "png",
    type: "image/png",
    about: sentence("handover/everyValueComputedIcc"),
  },
  jpeg: {
    name: sentence("handover/jpeg"),
    word: sentence("handover/toShow"),
    extension: "jpg",
    type: "image/jpeg",
    about: sentence("handover/fullChromaIccProfile"),
  },
  hdr: {
    name: sentence("handover/radianceHdr"),
    word: sentence("handover/theMergeLinear"),
    extension: "hdr",
    type: "image/vnd.radiance",
    about: sentence("handover/mergeWithoutLayersFinish"),
  },
};

interface Delivery {
  name: string;
  width: number;
  height: number;
  size: number;
  clipped: number;
  /** for Radiance HDR, else null */
  negatives: number | null;
  at: string;
}

/** Writes the files and keeps a copy of the job outside the browser. */
export function HandoverStage() {
  const { records, isBusy, findings, lastCopyAt } = usePartsOf("records", "isBusy", "findings", "lastCopyAt");
  const [kind, setKind] = useState<keyof typeof KINDS>("tiff16");
  const [quality, setQuality] = useState(95);
  const [space, setSpace] = useState<ExportSpace>("srgb");
  const [delivered, setDelivered] = useState<Delivery[]>([]);
  const [latest, setLatest] = useState<File | null>(null);
  const merge = mergeOf(records);
  const size = documentSize(records);
  const { crop } = outputGeometry(records);
  const base = fileBase(records);

  const deliver = async () => {
    const settings: ExportSettings = { format: kind as Kind, quality, space, content: kind === "hdr" ? "merge" : "finished", crop: true };
    const result = await runTask("handover", "task.writing", (signal, onProgress) =>
      ask("deliver", { records, settings, method: kind === "hdr" && merge ? lightMethod(merge.method) : undefined }, { signal, onProgress }),
    );
    if (!result) return;
    const name = `${base}.${KINDS[kind].extension}`;
    const file = new File([result.file], name, { type: KINDS[kind].type });
    download(file, name);
    setLatest(file);
    setDelivered([
      {
        name,
        width: result.width,
        height: result.height,
        size: result.file.size,
        clipped: result.clippedShare,
        negatives: kind === "hdr" ? result.negatives : null,
        at: new Date().toISOString(),
      },
      ...delivered,
    ]);
    useSession.setState({ lastExportAt: new Date().toISOString() });
  };
  const jobSection = (
    <Section>
      <Heading>{sentence("handover/theJobItself")}</Heading>
      <Soft>{sentence(message("handover/oneOpenFileAll", { time: clock(lastCopyAt) }))}</Soft>
      <RowOf>
        <Button isDisabled={isBusy} onPress={() => void saveJobFile()}>
          {sentence("handover/saveJobFile")}
        </Button>
        <FilePicker accept={[".marsh", "application/zip"]} isDisabled={isBusy} onFiles={(files) => void openJobFromFile(files[0])}>
          {sentence("handover/openJobFile")}
        </FilePicker>
      </RowOf>
    </Section>
  );
  if (!merge || !size) {
    return (
      <StageLayout
        ledger={
          <Section>
            <Heading>{sentence("handover/nothingDeliverYet")}</Heading>
          </Section>
        }
        bench={jobSection}
      >
        <EmptyPicture
          title={sentence("handover/thereNoPictureHand")}
          action={<PrimaryButton onPress={() => setStage("merge")}>{sentence("common/goToMerge")}</PrimaryButton>}
        >
          {sentence("handover/filesWrittenHereFrom")}
        </EmptyPicture>
      </StageLayout>
    );
  }
  const open = openFindingsOf(records, findings).length;
  const ids = Object.keys(KINDS) as (keyof typeof KINDS)[];
  return (
    <StageLayout
      ledger={
        <>
          <Section>
            <Heading>
              {sentence(message("handover/sizePx", { width: pixels(crop.width), height: pixels(crop.height), size: megapixels(crop.width, crop.height) }))}
            </Heading>
            <Soft>
              {findings
                ? open
                  ? sentence(message("handover/findingsOpenProof", { open }))
                  : sentence("handover/nothingOpenProof")
                : sentence("handover/notInspectedSinceLast")}
            </Soft>
          </Section>
          <Ledger
            label={sentence("handover/files")}
            heads={[sentence("common/file")]}
            headless
            rows={ids.map((id) => ({ id }))}
            chosen={kind}
            onChoose={setKind}
          >
            {ids.map((id) => (
              <LedgerRow key={id} id={id}>
                <LedgerCell>
                  <Figure value={KINDS[id].name} word={KINDS[id].word} />
                </LedgerCell>
              </LedgerRow>
            ))}
          </Ledger>
          {delivered.length > 0 && (
            <Section>
              <Heading>{sentence("handover/delivered")}</Heading>
              {delivered.map((d, i) => (
                <Card key={d.at}>
                  <b>{d.name}</b>
                  <p>
                    {sentence(
                      message("handover/deliveredSize", {
                        width: pixels(d.width),
                        height: pixels(d.height),
                        size: bytes(d.size),
                        time: clock(d.at),
                        value:
                          d.negatives === null
                            ? sentence(message("handover/samplesWereOutsideOutput", { share: percent(d.clipped) }))
                            : sentence(message("handover/samplesBelowZeroWere", { negatives: pixels(d.negatives) })),
                      }),
                    )}
                  </p>
                  {i === 0 && latest && canShare(latest) && <Button onPress={() => void share(latest)}>{sentence("handover/share")}</Button>}
                </Card>
              ))}
            </Section>
          )}
        </>
      }
      bench={
        <>
          <Section>
            <Heading>{KINDS[kind].name}</Heading>
            <Soft>{KINDS[kind].about}</Soft>
            {kind === "jpeg" && (
              <MeasuredControl
                name={sentence("handover/quality")}
                unit={sentence("handover/of100")}
                value={quality}
                neutral={95}
                min={50}
                max={100}
                step={1}
                digits={0}
                onChange={setQuality}
              />
            )}
            {kind !== "hdr" && (
              <Choices
                label={sentence("handover/colourSpace")}
                items={(Object.keys(SPACES) as ExportSpace[]).map((id) => ({ id, label: id === "rec2020" ? "Rec. 2020" : SPACES[id].name }))}
                chosen={space}
                onChoose={setSpace}
              />
            )}
            {kind === "hdr" && merge.method === "fusion" && <Soft>{sentence("handover/fusionUseRadianceMerge")}</Soft>}
            <RowOf>
              <PrimaryButton isDisabled={isBusy} onPress={() => void deliver()}>
                {sentence(message("handover/writeExtension", { extension: KINDS[kind].extension.toUpperCase() }))}
              </PrimaryButton>
            </RowOf>
          </Section>
          {jobSection}
        </>
      }
      bar={<ViewChoices views={[{ id: "out", label: sentence("handover/asDelivered") }]} chosen="out" onChoose={() => undefined} />}
    >
      <PictureView name={sentence("handover/deliveredPicture")} panes={[{ view: { kind: "output" }, records, label: "" }]} arrangement="single" size={crop} />
    </StageLayout>
  );
}
