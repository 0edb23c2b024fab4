"use client";
import { sentence, title } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { useEffect, useRef, useState } from "react";
import styled from "styled-components";
import type { ProjectionFigures } from "../../../core/panorama/judgeProjections";
import type { PanoramaRecord } from "../../../document/records/panoramaTypes";
import type { Records } from "../../../document/records/types";
import { showPanorama } from "../../../session/panorama";
import { report, useSession } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { tokens } from "../../../ui/tokens/tokens";
import { percent, plain } from "../../../ui/format";
import { isCancelled } from "../../../workers/client/EngineClient";
import { ask } from "../../../session/openJob";

const Grid = styled.div`
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  display: grid;
  grid-template-columns: 1fr 1fr;
  grid-auto-rows: min-content;
  gap: 10px;
  padding: 10px;
  background: #777777;
`;
const Tile = styled.section<{ $on: boolean }>`
  background: ${tokens.panel};
  border: ${({ $on }) => ($on ? `2px solid ${tokens.chosen}` : `1px solid ${tokens.lineStrong}`)};
  padding: ${({ $on }) => ($on ? "7px" : "8px")};
  canvas {
    display: block;
    width: 100%;
    height: 110px;
    object-fit: contain;
    background: #777777;
  }
  header {
    display: flex;
    align-items: baseline;
    justify-content: space-between;
    gap: 8px;
    margin: 6px 0 2px;
  }
  h3 {
    font-size: ${tokens.size.text};
    font-weight: 600;
  }
  dl {
    display: grid;
    grid-template-columns: repeat(4, auto);
    justify-content: space-between;
    font-family: ${tokens.condensed};
    font-size: ${tokens.size.small};
  }
  dt {
    grid-row: 2;
  }
  dd {
    font-weight: 600;
    font-size: ${tokens.size.text};
  }
`;

/** Every projection that can show the frames, with what it does to them. */
export function ProjectionSheet({ panorama, isDisabled, onTaken }: { panorama: PanoramaRecord; isDisabled: boolean; onTaken: () => void }) {
  const records = useSession((s) => s.records);
  const [figures, setFigures] = useState<ProjectionFigures[] | null>(null);
  useEffect(() => {
    const controller = new AbortController();
    ask("compareProjections", { records, attitude: null }, { signal: controller.signal }).then(
      (found) => !controller.signal.aborted && setFigures(found),
      (error) => !isCancelled(error) && report(error),
    );
    return () => controller.abort();
  }, [records]);
  return (
    <Grid aria-label={sentence("register/projections")}>
      {!figures && <p>{sentence("common/measuring")}</p>}
      {figures?.map((f) => {
        const name = title(`projection.${f.projection}`);
        const inForce = f.projection === panorama.view.projection;
        return (
          <Tile key={f.projection} $on={inForce} aria-label={name}>
            <Preview records={records} figures={f} />
            <header>
              <h3>{f.projection === panorama.proposal.projection ? sentence(message("register/proposed", { name })) : name}</h3>
              <Button
                isDisabled={isDisabled || inForce}
                onPress={() =>
                  void showPanorama({ projection: f.projection }, message("step.projection", { projection: message(`projection.${f.projection}`, {}) })).then(
                    onTaken,
                  )
                }
              >
                {inForce ? sentence("common/inUse") : sentence("register/use")}
              </Button>
            </header>
            <dl>
              <dt>{sentence("register/stretch")}</dt>
              <dd>{plain(f.stretch, 2)}</dd>
              <dt>{sentence("register/enlarged")}</dt>
              <dd>{plain(f.enlargement, 2)}</dd>
              <dt>{sentence("register/straightLinesBow")}</dt>
              <dd>{percent(f.bend)}</dd>
              <dt>{sentence("register/keptByCrop")}</dt>
              <dd>{percent(f.cropShare)}</dd>
            </dl>
          </Tile>
        );
      })}
    </Grid>
  );
}

/** Width that a preview is drawn at, px. */
const PREVIEW = 700;

function Preview({ records, figures }: { records: Records; figures: ProjectionFigures }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { view } = figures;
  useEffect(() => {
    const controller = new AbortController();
    const level = Math.max(0, Math.ceil(Math.log2(Math.max(view.width, view.height) / PREVIEW)));
    const rect = { x: 0, y: 0, width: Math.ceil(view.width / 2 ** level), height: Math.ceil(view.height / 2 ** level) };
    ask("renderRect", { records, view: { kind: "panorama", view }, level, rect, space: "srgb" }, { signal: controller.signal }).then(
      ({ rgba, rect: drawn }) => {
        const target = canvas.current;
        if (!target || controller.signal.aborted) return;
        Object.assign(target, { width: drawn.width, height: drawn.height });
        target.getContext("2d")!.putImageData(new ImageData(rgba, drawn.width, drawn.height), 0, 0);
      },
      (error) => !isCancelled(error) && report(error),
    );
    return () => controller.abort();
  }, [records, view]);
  return <canvas ref={canvas} aria-label={sentence(message("register/preview", { value: sentence(`projection.${figures.projection}`) }))} />;
}
