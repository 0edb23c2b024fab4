"use client";
import { message } from "../../messages/message";
import { sentence, title } from "../../messages/sentence";
import { useEffect, useState } from "react";
import styled from "styled-components";
import { SET_WORDS } from "../../kinds/sets/words";
import { pictureOf } from "../../session/picturing";
import { duplicateJob, openStoredJob, removeFromList, renameStored } from "../../session/jobs";
import { STAGES } from "../../session/stages";
import { useSession } from "../../session/store";
import type { JobEntry } from "../../storage/database";
import { Button, PlainButton } from "../../ui/components/Button";
import { MenuButton } from "../../ui/components/MenuButton";
import { Select } from "../../ui/components/Select";
import { TextField } from "../../ui/components/TextField";
import { Soft } from "../../ui/components/panels";
import { bytes, clock } from "../../ui/format";
import { tokens } from "../../ui/tokens/tokens";
import { Preview } from "./Preview";

const Bar = styled.div`
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 8px 14px;
  border-bottom: 1px solid ${tokens.line};
`;
const List = styled.ul`
  list-style: none;
`;
const Item = styled.li`
  display: grid;
  grid-template-columns: 132px 1fr auto;
  align-items: center;
  gap: 14px;
  padding: 8px 14px;
  border-bottom: 1px solid ${tokens.line};
`;
const Name = styled(PlainButton)`
  font-size: ${tokens.size.large};
  font-weight: 600;
  text-align: left;
  padding-left: 0;
`;
const Actions = styled.div`
  display: flex;
  gap: 6px;
`;

const ORDERS = {
  changed: (a: JobEntry, b: JobEntry) => b.updatedAt.localeCompare(a.updatedAt),
  name: (a: JobEntry, b: JobEntry) => a.name.localeCompare(b.name, "en-GB", { numeric: true }),
} as const;
type Order = keyof typeof ORDERS | "size";

/** Jobs from which on they can be found and sorted. */
const MANY = 4;

/** Every job with its picture, where it stands, and what can be done with it. */
export function JobList({ jobs }: { jobs: JobEntry[] }) {
  const sizes = useSession((s) => s.sizes);
  const [order, setOrder] = useState<Order>("changed");
  const [wanted, setWanted] = useState("");
  const compare = order === "size" ? (a: JobEntry, b: JobEntry) => (sizes.get(b.id) ?? 0) - (sizes.get(a.id) ?? 0) : ORDERS[order];
  const shown = jobs.filter((j) => j.name.toLowerCase().includes(wanted.trim().toLowerCase())).sort(compare);
  return (
    <>
      {jobs.length >= MANY && (
        <Bar>
          <label style={{ flex: 1, maxWidth: 320 }}>
            <Soft as="span">{sentence("jobs/find")}</Soft>
            <TextField value={wanted} onChange={(e) => setWanted(e.target.value)} />
          </label>
          <Select
            label={sentence("jobs/sortBy")}
            items={[
              { id: "changed", label: sentence("jobs/lastChange") },
              { id: "name", label: sentence("jobs/name") },
              { id: "size", label: sentence("jobs/size") },
            ]}
            chosen={order}
            onChoose={setOrder}
          />
        </Bar>
      )}
      <List aria-label={sentence("jobs/jobs")}>
        {shown.map((j) => (
          <Job key={j.id} job={j} size={sizes.get(j.id) ?? 0} />
        ))}
      </List>
      {shown.length === 0 && <Soft style={{ padding: 14 }}>{sentence("jobs/noJobCalled")}</Soft>}
    </>
  );
}

function Job({ job, size }: { job: JobEntry; size: number }) {
  const [naming, setNaming] = useState<string | null>(null);
  const rename = () => {
    if (naming?.trim() && naming.trim() !== job.name) void renameStored(job.id, naming.trim());
    setNaming(null);
  };
  return (
    <Item>
      <Preview of={usePicture(job)} />
      <div>
        {naming === null ? (
          <Name onPress={() => void openStoredJob(job.id)}>{job.name}</Name>
        ) : (
          <TextField
            autoFocus
            aria-label={sentence("common/nameJob")}
            maxLength={200}
            value={naming}
            onChange={(e) => setNaming(e.target.value)}
            onBlur={rename}
            onKeyDown={(e) => {
              if (e.key === "Enter") rename();
              if (e.key === "Escape") setNaming(null);
            }}
          />
        )}
        <p>{standing(job)}</p>
        <Soft>{sentence(message("jobs/changedLastCopyOutside", { time: clock(job.updatedAt), size: bytes(size), time2: clock(job.lastCopyAt) }))}</Soft>
      </div>
      <Actions>
        <Button onPress={() => void openStoredJob(job.id)}>{sentence("jobs/open")}</Button>
        <MenuButton
          label={sentence("jobs/more")}
          name={sentence(message("jobs/moreForName", { name: job.name }))}
          items={[
            { id: "rename", name: sentence("jobs/rename") },
            { id: "duplicate", name: sentence("jobs/duplicate"), does: sentence("jobs/secondJobSameFrames") },
            { id: "remove", name: sentence("common/remove"), does: sentence("jobs/canTakenBackSeven") },
          ]}
          onChoose={(id) => {
            if (id === "rename") setNaming(job.name);
            else if (id === "duplicate") void duplicateJob(job.id);
            else void removeFromList(job.id);
          }}
        />
      </Actions>
    </Item>
  );
}

/** What a job is and where it stands on the path. */
function standing({ frames, setKind, reached, openFindings }: JobEntry): string {
  if (frames === 0) return sentence("common/noFramesYet");
  const stage = STAGES.find((s) => s === reached) ?? "gather";
  const findings =
    openFindings === null ? [] : [openFindings === 0 ? sentence("jobs/noOpenFinding") : sentence(message("common/openFindingsCount", { count: openFindings }))];
  return [
    `${SET_WORDS[setKind].name}, ${sentence(message("common/framesCount", { count: frames }))}`,
    sentence(message("jobs/atStage", { stage: title(`stage.${stage}`) })),
    ...findings,
  ].join(" · ");
}

/** The address of a job's kept picture, while it is shown. */
function usePicture({ id, updatedAt }: JobEntry): string | null {
  const [address, setAddress] = useState<string | null>(null);
  useEffect(() => {
    let made: string | null = null;
    let gone = false;
    void pictureOf(id).then(
      (picture) => {
        if (!picture || gone) return;
        made = URL.createObjectURL(picture);
        setAddress(made);
      },
      () => undefined,
    );
    return () => {
      gone = true;
      if (made) URL.revokeObjectURL(made);
    };
  }, [id, updatedAt]);
  return address;
}
