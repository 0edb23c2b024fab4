"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect, useState } from "react";
import styled from "styled-components";
import { letRemovedGo, newJob, openJobFiles, refreshJobs } from "../../session/jobs";
import { usePartsOf } from "../../session/store";
import { PrimaryButton } from "../../ui/components/Button";
import { FilePicker } from "../../ui/components/FilePicker";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { bytes } from "../../ui/format";
import { tokens } from "../../ui/tokens/tokens";
import { DemoList } from "./DemoList";
import { JobList } from "./JobList";
import { Machine } from "./Machine";
import { RemovedJobs } from "./RemovedJobs";

const Page = styled.main`
  flex: 1;
  overflow: auto;
  background: ${tokens.panelLow};
  display: flex;
  justify-content: center;
  padding: 24px 20px 40px;
`;
const Column = styled.div`
  width: min(1080px, 100%);
  height: fit-content;
  background: ${tokens.panel};
  border: 1px solid ${tokens.lineStrong};
`;
const Lead = styled.h1`
  font-size: ${tokens.size.title};
  font-weight: 600;
  line-height: 1.3;
`;

/** The jobs kept in this browser, and ways to begin one. */
export function JobsPage() {
  const { jobs, room } = usePartsOf("jobs", "room");
  // until the list is known the page does not take everybody for a first visitor
  const [listed, setListed] = useState(false);
  useEffect(() => {
    void refreshJobs().then(() => {
      setListed(true);
      void letRemovedGo();
    });
  }, []);
  const present = jobs.filter((j) => j.removedAt === null);
  if (!listed) return <Page />;
  return (
    <Page>
      <Column>
        <Section>
          <Lead>{present.length > 0 ? sentence("jobs/yourJobs") : sentence("jobs/makeOnePictureSeveral")}</Lead>
          {present.length === 0 && <p style={{ maxWidth: 640, margin: "6px 0" }}>{sentence("jobs/marshLinesUpExposure")}</p>}
          <RowOf>
            <PrimaryButton onPress={() => void newJob(sentence("common/untitledJob"))}>{sentence("jobs/newJob")}</PrimaryButton>
            <FilePicker accept={[".marsh", "application/zip"]} multiple onFiles={(files) => void openJobFiles(files)}>
              {sentence("jobs/openJobFiles")}
            </FilePicker>
            <Soft>{sentence("jobs/dropPicturesJobFiles")}</Soft>
          </RowOf>
        </Section>
        {present.length > 0 && <JobList jobs={present} />}
        <RemovedJobs jobs={jobs.filter((j) => j.removedAt !== null)} />
        <DemoList folded={present.length > 0} />
        {room && (
          <Section>
            <Heading>{sentence("jobs/storage")}</Heading>
            <Soft>
              {sentence(
                message("jobs/usedFreeSize", {
                  size: bytes(room.usedBytes),
                  size2: bytes(room.freeBytes),
                  value: room.persistent ? sentence("jobs/browserKeepsUntilYou") : sentence("jobs/browserMayClearWhen"),
                }),
              )}
            </Soft>
          </Section>
        )}
        <Machine />
      </Column>
    </Page>
  );
}
