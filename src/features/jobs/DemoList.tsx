"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect, useState } from "react";
import styled from "styled-components";
import { listDemoJobs, sizeOfDemo, startDemo, type DemoJob } from "../../session/demos";
import { Button } from "../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { bytes } from "../../ui/format";
import { tokens } from "../../ui/tokens/tokens";
import { Preview } from "./Preview";

const Grid = styled.ul`
  list-style: none;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(420px, 1fr));
  gap: 14px 20px;
  margin-top: 10px;
  li {
    display: grid;
    grid-template-columns: 132px 1fr;
    gap: 12px;
  }
  h3 {
    font-size: ${tokens.size.text};
    font-weight: 600;
  }
`;

/** Jobs to try, from the Wrenfold Marsh reserve. Once there are jobs of one's own they fold away. */
export function DemoList({ folded }: { folded: boolean }) {
  const [demos, setDemos] = useState<DemoJob[]>([]);
  const [open, setOpen] = useState<boolean | null>(null);
  useEffect(() => {
    void listDemoJobs().then(setDemos, () => undefined);
  }, []);
  if (demos.length === 0) return null;
  const shown = open ?? !folded;
  return (
    <Section>
      <Heading>{sentence("jobs/demoJobs")}</Heading>
      <Soft>{sentence("jobs/framesWrenfoldMarshReserve")}</Soft>
      {folded && (
        <RowOf>
          <Button aria-expanded={shown} onPress={() => setOpen(!shown)}>
            {shown ? sentence("jobs/foldAway") : sentence(message("jobs/showDemoJobs", { count: demos.length }))}
          </Button>
        </RowOf>
      )}
      {shown && (
        <Grid aria-label={sentence("jobs/demoJobs")}>
          {demos.map((d) => (
            <li key={d.id}>
              <Preview of={`/previews/${d.id}.jpg`} />
              <div>
                <h3>{d.name}</h3>
                <Soft>{d.about}</Soft>
                <Soft>{`${sentence(message("common/framesCount", { count: d.files.length }))}, ${bytes(sizeOfDemo(d))}`}</Soft>
                <RowOf>
                  <Button aria-label={sentence(message("jobs/openName", { name: d.name }))} onPress={() => void startDemo(d)}>
                    {sentence("jobs/open")}
                  </Button>
                </RowOf>
              </div>
            </li>
          ))}
        </Grid>
      )}
    </Section>
  );
}
