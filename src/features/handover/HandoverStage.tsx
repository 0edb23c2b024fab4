"use client";
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
const KINDS: Record<"tiff16" | "png16" | "jpeg" | "hdr", { name: string; word: string; extension: string; about: string }> = {
  tiff16: {
    name: "TIFF, 16 bit",
    word: "for print and further work",
    extension: "tif",
    about: "Every value as computed, Deflate, with ICC profile and the metadata that remains true.",
  },
  png16: {
    name: "PNG, 16 bit",
    word: "lossless, read everywhere",
    extension: "png",
    about: "Every value as computed, with ICC profile and the metadata that remains true.",
  },
  jpeg: { name: "JPEG", word: "to show", extension: "jpg", about: "Full chroma, with ICC profile and the metadata that remains true." },
  hdr: {
    name: "Radiance HDR",
    word: "the merge, linear",
    extension: "hdr",
    about: "The merge without layers and finish: linear Rec. 709, 1.0 is diffuse white at the reference frame's exposure.",
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
    download(result.file, name);
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
      <Heading>The job itself</Heading>
      <Soft>One open file with all sources, masks and steps. Last copy outside the browser: {clock(lastCopyAt)}.</Soft>
      <RowOf>
        <Button isDisabled={isBusy} onPress={() => void saveJobFile()}>
          Save job file
        </Button>
        <FilePicker accept={[".marsh", "application/zip"]} isDisabled={isBusy} onFiles={(files) => void openJobFromFile(files[0])}>
          Open job file
        </FilePicker>
      </RowOf>
    </Section>
  );
  if (!merge || !size) {
    return (
      <StageLayout
        ledger={
          <Section>
            <Heading>Nothing to deliver yet</Heading>
          </Section>
        }
        bench={jobSection}
      >
        <EmptyPicture title="There is no picture to hand over yet" action={<PrimaryButton onPress={() => setStage("merge")}>Go to Merge</PrimaryButton>}>
          Files are written here from the same computation that draws the screen.
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
              {pixels(crop.width)} × {pixels(crop.height)} px, {megapixels(crop.width, crop.height)}
            </Heading>
            <Soft>{findings ? (open ? `${open} findings are open in Proof.` : "Nothing is open in Proof.") : "Not inspected since the last change."}</Soft>
          </Section>
          <Ledger label="Files" heads={["File"]} headless chosen={kind} onChoose={setKind}>
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
              <Heading>Delivered</Heading>
              {delivered.map((d) => (
                <Card key={d.at}>
                  <b>{d.name}</b>
                  <p>
                    {pixels(d.width)} × {pixels(d.height)} px, {bytes(d.size)}, {clock(d.at)}.{" "}
                    {d.negatives === null
                      ? `${percent(d.clipped)} of the samples were outside the output range and are clipped.`
                      : `${pixels(d.negatives)} samples below zero were set to 0; light above 1 is kept.`}
                  </p>
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
              <MeasuredControl name="Quality" unit="of 100" value={quality} neutral={95} min={50} max={100} step={1} digits={0} onChange={setQuality} />
            )}
            {kind !== "hdr" && (
              <Choices
                label="Colour space"
                items={(Object.keys(SPACES) as ExportSpace[]).map((id) => ({ id, label: id === "rec2020" ? "Rec. 2020" : SPACES[id].name }))}
                chosen={space}
                onChoose={setSpace}
              />
            )}
            {kind === "hdr" && merge.method === "fusion" && <Soft>The fusion is in use; the radiance merge is made from the same frames for this file.</Soft>}
            <RowOf>
              <PrimaryButton isDisabled={isBusy} onPress={() => void deliver()}>
                Write {KINDS[kind].extension.toUpperCase()}
              </PrimaryButton>
            </RowOf>
          </Section>
          {jobSection}
        </>
      }
      bar={<ViewChoices views={[{ id: "out", label: "As delivered" }]} chosen="out" onChoose={() => undefined} />}
    >
      <PictureView name="Delivered picture" panes={[{ view: { kind: "output" }, records, label: "" }]} arrangement="single" size={crop} />
    </StageLayout>
  );
}
