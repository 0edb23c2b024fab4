"use client";
import { sentence } from "../../../messages/sentence";
import { useMemo, useState } from "react";
import { hasCell, outlineOf } from "../../../core/masks/cellRuns";
import type { WeaveRecord } from "../../../document/records/weaveTypes";
import { documentSize } from "../../../document/selectors";
import { chosenRuns, layWeave } from "../../../document/weaveEdits";
import { report, useSession } from "../../../session/store";
import { PictureView } from "../../../view/PictureView";
import type { PicturePointer } from "../../../view/pictureTool";
import { ReadoutLine } from "../../../view/ReadoutLine";
import { StageLayout } from "../../../view/StageLayout";
import { ViewChoices } from "../../../view/ViewChoices";
import { useCompose } from "../../../view/composeState";
import { WeaveBench, type Spot } from "./WeaveBench";
import { WeaveLedger } from "./WeaveLedger";
import { ask } from "../../../session/openJob";

type Shown = "woven" | "merge" | "frame";

/** Half the side of the spot that is looked at, cells. */
const SPOT = 6;

/** The weave: regions of the scene and the frame that each is taken from, seen as it would be laid. */
export function WeaveStage({ weave }: { weave: WeaveRecord }) {
  const records = useSession((s) => s.records);
  const regionId = useCompose((s) => s.regionId);
  const [shown, setShown] = useState<Shown>("woven");
  const [spot, setSpot] = useState<(Spot & { regionId: string }) | null>(null);
  const region = weave.regions.find((r) => r.id === regionId) ?? weave.regions[0] ?? null;
  const woven = useMemo(() => layWeave(weave, chosenRuns(weave))(records), [weave, records]);
  const outlines = useMemo(() => weave.regions.map((r) => ({ id: r.id, path: outlineOf(r.runs) })), [weave.regions]);
  const size = documentSize(records);
  if (!size) return null;

  const look = async (p: PicturePointer) => {
    const [x, y] = [Math.floor((p.x + 0.5) / weave.cellPx), Math.floor((p.y + 0.5) / weave.cellPx)];
    const hit = weave.regions.find((r) => hasCell(r.runs, x, y));
    if (!hit) return;
    useCompose.setState({ regionId: hit.id });
    setSpot(null);
    const [x0, x1] = [Math.max(0, x - SPOT), Math.min(weave.columns, x + SPOT + 1)];
    const rows = Array.from({ length: 2 * SPOT + 1 }, (_, k) => y - SPOT + k).filter((r) => r >= 0 && r < weave.rows);
    const side = (2 * SPOT + 1) * weave.cellPx;
    try {
      const cells = await ask("measureArea", { records, runs: rows.flatMap((r) => [r, x0, x1]) });
      setSpot({ regionId: hit.id, cells, rectangle: { x: Math.round(p.x - side / 2), y: Math.round(p.y - side / 2), width: side, height: side } });
    } catch (error) {
      report(error);
    }
  };
  const frameId = region?.choice ?? null;
  const view =
    shown === "frame" && frameId
      ? ({ kind: "frame", frameId } as const)
      : shown === "merge"
        ? ({ kind: "merge", method: null } as const)
        : ({ kind: "compose" } as const);
  return (
    <StageLayout
      ledger={<WeaveLedger weave={weave} />}
      bench={<WeaveBench weave={weave} region={region} spot={spot?.regionId === region?.id ? spot : null} />}
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "woven", label: sentence("compose/asWoven") },
            { id: "frame", label: sentence("compose/frameTaken"), isDisabled: !frameId },
            { id: "merge", label: sentence("common/merge") },
          ]}
          chosen={shown}
          onChoose={setShown}
        />
      }
      readout={<ReadoutLine records={woven} extra={<span>{sentence("compose/pressOneSpotAll")}</span>} />}
    >
      <PictureView
        name={sentence("compose/weave")}
        panes={[{ view, records: shown === "woven" ? woven : records, label: "" }]}
        arrangement="single"
        size={size}
        tool={{ cursor: "crosshair", down: (p) => void look(p) }}
        overlay={({ toScreen, scale }) => {
          const [x, y] = toScreen(0, 0);
          const k = scale * weave.cellPx;
          return (
            <g transform={`translate(${x} ${y}) scale(${k})`} fill="none">
              {outlines.map(({ id, path }) => (
                <g key={id} opacity={id === region?.id ? 1 : 0.45}>
                  <path d={path} stroke="#000" strokeWidth={(id === region?.id ? 4 : 2.4) / k} opacity={0.6} />
                  <path d={path} stroke="#fff" strokeWidth={(id === region?.id ? 2 : 1) / k} />
                </g>
              ))}
            </g>
          );
        }}
      />
    </StageLayout>
  );
}
