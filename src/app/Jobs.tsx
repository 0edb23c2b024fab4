"use client";
import { useEffect, useState } from "react";
import styled from "styled-components";
import { gatherDemo, listDemoJobs, type DemoJob } from "../session/gathering";
import { computeOn, deleteJob, letPicturesGo, newJob, openJobFromFile, openStoredJob, refreshJobs } from "../session/jobs";
import { useSession } from "../session/store";
import { mostThreads, threadChoices } from "../session/threads";
import { Button, PrimaryButton, TextButton } from "../ui/components/Button";
import { FilePicker } from "../ui/components/FilePicker";
import { Figure, Heading, RowOf, Section, Soft, Table } from "../ui/components/panels";
import { Select } from "../ui/components/Select";
import { bytes, clock, counted } from "../ui/format";
import { tokens } from "../ui/tokens/tokens";

const Page = styled.main`
  flex: 1;
  overflow: auto;
  background: ${tokens.panelLow};
  display: flex;
  justify-content: center;
  padding: 40px 20px;
`;
const Column = styled.div`
  width: 720px;
  height: fit-content;
  background: ${tokens.panel};
  border: 1px solid ${tokens.lineStrong};
`;

/** Opens the demo job, or makes it. */
export async function startDemo(demo: DemoJob): Promise<void> {
  await newJob(demo.name);
  await gatherDemo(demo);
}

/** The jobs kept in this browser, and ways to begin one. */
export function Jobs() {
  const { jobs, room } = useSession();
  const [demos, setDemos] = useState<DemoJob[]>([]);
  const [asked, setAsked] = useState<string | null>(null);
  useEffect(() => {
    void refreshJobs();
    void listDemoJobs().then(setDemos, () => undefined);
  }, []);
  return (
    <Page>
      <Column>
        <Section>
          <Heading>Begin a job</Heading>
          <Soft>A job holds the frames of one picture and every step made with them. It stays in this browser until you save a copy.</Soft>
          <RowOf>
            <PrimaryButton onPress={() => void newJob("Untitled job")}>New job</PrimaryButton>
            <FilePicker accept={[".marsh", "application/zip"]} onFiles={(files) => void openJobFromFile(files[0])}>
              Open job file
            </FilePicker>
          </RowOf>
        </Section>
        <Section>
          <Heading>{jobs.length ? "Jobs in this browser" : "No jobs in this browser yet"}</Heading>
          {room && (
            <Soft>
              {bytes(room.usedBytes)} used, {bytes(room.freeBytes)} free.{" "}
              {room.persistent ? "The browser keeps it until you remove it." : "The browser may clear it when space runs short: save copies."}
            </Soft>
          )}
        </Section>
        {jobs.length > 0 && (
          <Table aria-label="Jobs">
            <tbody>
              {jobs.map((j) => (
                <tr key={j.id}>
                  <td>
                    <Figure value={j.name} word={`${j.frames} frame${j.frames === 1 ? "" : "s"}`} />
                  </td>
                  <td>
                    <Figure value={`changed ${clock(j.updatedAt)}`} word={`last copy ${clock(j.lastCopyAt)}`} />
                  </td>
                  <td style={{ textAlign: "right" }}>
                    <Button onPress={() => void openStoredJob(j.id)}>Open</Button>{" "}
                    {asked === j.id ? (
                      <TextButton onPress={() => void deleteJob(j.id)}>Remove for good</TextButton>
                    ) : (
                      <TextButton onPress={() => setAsked(j.id)}>Remove</TextButton>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
        {demos.map((d) => (
          <Section key={d.id}>
            <Heading>{d.name}</Heading>
            <Soft>{d.about}</Soft>
            <RowOf>
              <Button onPress={() => void startDemo(d)}>Open this demo job</Button>
            </RowOf>
          </Section>
        ))}
        <Machine />
      </Column>
    </Page>
  );
}

/** What Marsh takes of this machine. */
function Machine() {
  const { rasterUse, threads } = useSession();
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
