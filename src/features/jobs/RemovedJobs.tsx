"use client";
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
      <Heading>Removed</Heading>
      <Soft>They go for good seven days after they were removed, and take room until then.</Soft>
      {jobs.map((j) => (
        <p key={j.id} style={{ marginTop: 6 }}>
          {j.name}, removed {clock(j.removedAt)} <TextButton onPress={() => void takeBack(j.id)}>Take back</TextButton>{" "}
          <TextButton onPress={() => void deleteJob(j.id)}>Remove for good</TextButton>
        </p>
      ))}
    </Section>
  );
}
