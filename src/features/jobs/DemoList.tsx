"use client";
import { useEffect, useState } from "react";
import styled from "styled-components";
import { listDemoJobs, sizeOfDemo, startDemo, type DemoJob } from "../../session/demos";
import { Button } from "../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { bytes, counted } from "../../ui/format";
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
      <Heading>Demo jobs</Heading>
      <Soft>Frames of the Wrenfold Marsh reserve, a made-up place, to try everything with.</Soft>
      {folded && (
        <RowOf>
          <Button aria-expanded={shown} onPress={() => setOpen(!shown)}>
            {shown ? "Fold away" : `Show ${demos.length} demo jobs`}
          </Button>
        </RowOf>
      )}
      {shown && (
        <Grid aria-label="Demo jobs">
          {demos.map((d) => (
            <li key={d.id}>
              <Preview of={`/previews/${d.id}.jpg`} />
              <div>
                <h3>{d.name}</h3>
                <Soft>{d.about}</Soft>
                <Soft>{`${counted(d.files.length, "frame")}, ${bytes(sizeOfDemo(d))}`}</Soft>
                <RowOf>
                  <Button aria-label={`Open ${d.name}`} onPress={() => void startDemo(d)}>
                    Open
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
