"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect } from "react";
import { framesOf } from "../../document/selectors";
import { allow, checkFolders, findSources } from "../../session/folders";
import { useSession } from "../../session/store";
import type { CheckedLink } from "../../storage/linkedFiles";
import { Button } from "../../ui/components/Button";
import { Card, Heading, RowOf, Section, Soft } from "../../ui/components/panels";

const PROBLEMS = { missing: sentence("gather/notThereAnyMore"), changed: sentence("gather/hasChangedSinceWas") } as const;

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
      <Heading>{sentence("gather/linkedFolders")}</Heading>
      {folders.map(([id, name]) => (
        <Folder key={id} id={id} name={name} links={links.filter((l) => l.folderId === id)} />
      ))}
    </Section>
  );
}

function Folder({ id, name, links }: { id: string; name: string; links: CheckedLink[] }) {
  const lost = links.flatMap((l) => (l.state === "missing" || l.state === "changed" ? [{ ...l, what: PROBLEMS[l.state] }] : []));
  const barred = links.some((l) => l.state === "notAllowed");
  const count = sentence(message("common/framesCount", { count: links.length }));
  return (
    <>
      <Soft>{sentence(message("gather/linkedByChecksumNo", { count, name }))}</Soft>
      {barred && (
        <Card $open>
          {sentence("gather/browserHasAllowedRead")}
          <RowOf>
            <Button onPress={() => void allow(id)}>{sentence("gather/allowReading")}</Button>
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
            <Button onPress={() => void findSources()}>{sentence("gather/lookFolder")}</Button>
            <Button onPress={() => void checkFolders()}>{sentence("common/lookAgain")}</Button>
          </RowOf>
        </Card>
      )}
    </>
  );
}
