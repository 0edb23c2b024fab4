"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { deleteJob, takeBack } from "../../session/jobs";
import type { JobEntry } from "../../storage/database";
import { TextButton } from "../../ui/components/Button";
import { Heading, Section, Soft } from "../../ui/components/panels";
import { clock } from "../../ui/format";

/** Jobs that were removed and can be taken back still. */
export function RemovedJobs({ jobs }: { jobs: JobEntry[] }) {
  if (jobs.length === 0) return null;
  return (
    <Section>
      <Heading>{sentence("jobs/removed")}</Heading>
      <Soft>{sentence("jobs/theyGoGoodSeven")}</Soft>
      {jobs.map((j) => (
        <p key={j.id} style={{ marginTop: 6 }}>
          {sentence(message("jobs/removedName", { name: j.name, time: clock(j.removedAt) }))}{" "}
          <TextButton onPress={() => void takeBack(j.id)}>{sentence("common/takeBack")}</TextButton>{" "}
          <TextButton onPress={() => void deleteJob(j.id)}>{sentence("jobs/removeForGood")}</TextButton>
        </p>
      ))}
    </Section>
  );
}
