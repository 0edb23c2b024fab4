"use client";
import { useEffect } from "react";
import { framesOf } from "../../document/selectors";
import { allow, checkFolders, findSources } from "../../session/folders";
import { useSession } from "../../session/store";
import type { CheckedLink } from "../../storage/linkedFiles";
import { Button } from "../../ui/components/Button";
import { Card, Heading, RowOf, Section, Soft } from "../../ui/components/panels";

const PROBLEMS = { missing: "is not there any more", changed: "has changed since it was gathered" } as const;

/** Frames that stay in folders on disk, and what has become of them. */
export function FolderSection() {
  const jobId = useSession((s) => s.jobId);
  const links = useSession((s) => s.links);
  const frames = useSession((s) => framesOf(s.records).length);
  useEffect(() => void checkFolders(), [jobId, frames]);
  if (links.length === 0) return null;
  const folders = [...new Map(links.map((l) => [l.folderId, l.folderName]))];
  return (
    <Section>
      <Heading>Linked folders</Heading>
      {folders.map(([id, name]) => (
        <Folder key={id} id={id} name={name} links={links.filter((l) => l.folderId === id)} />
      ))}
    </Section>
  );
}

function Folder({ id, name, links }: { id: string; name: string; links: CheckedLink[] }) {
  const lost = links.flatMap((l) => (l.state === "missing" || l.state === "changed" ? [{ ...l, what: PROBLEMS[l.state] }] : []));
  const barred = links.some((l) => l.state === "notAllowed");
  const count = `${links.length} frame${links.length === 1 ? "" : "s"}`;
  return (
    <>
      <Soft>
        {count} in “{name}”, linked by checksum; no copy is kept in the browser.
      </Soft>
      {barred && (
        <Card $open>
          The browser has to be allowed to read this folder again.
          <RowOf>
            <Button onPress={() => void allow(id)}>Allow reading</Button>
          </RowOf>
        </Card>
      )}
      {lost.length > 0 && (
        <Card $open>
          {lost.map((l) => (
            <div key={l.sourceId}>
              {l.fileName} {l.what}.
            </div>
          ))}
          <RowOf>
            <Button onPress={() => void findSources()}>Look in a folder</Button>
            <Button onPress={() => void checkFolders()}>Look again</Button>
          </RowOf>
        </Card>
      )}
    </>
  );
}
