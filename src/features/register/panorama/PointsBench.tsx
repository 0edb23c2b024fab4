"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { useState } from "react";
import type { PanoramaPoint, PanoramaRecord } from "../../../document/records/panoramaTypes";
import type { FrameRecord } from "../../../document/records/types";
import { activeFramesOf, frameNumber } from "../../../document/selectors";
import { registerPanorama } from "../../../session/panorama";
import { notify, report, usePartsOf } from "../../../session/store";
import { Button, PrimaryButton } from "../../../ui/components/Button";
import { Heading, RowOf, Section, Soft, Table } from "../../../ui/components/panels";
import { Select } from "../../../ui/components/Select";
import { PictureView } from "../../../view/PictureView";
import type { PictureTool } from "../../../view/pictureTool";
import { StageLayout } from "../../../view/StageLayout";
import { Points } from "../overlays";
import { ask } from "../../../session/openJob";

/** Places set by hand in two frames side by side, where measuring found too few. */
export function PointsBench({ panorama, onClose }: { panorama: PanoramaRecord; onClose: () => void }) {
  const { records, isBusy, readOnly } = usePartsOf("records", "isBusy", "readOnly");
  const frames = activeFramesOf(records);
  const lost = panorama.frames.find((f) => !f.rotation)?.frameId;
  const [bId, setB] = useState(lost ?? frames[1].id);
  const [aId, setA] = useState(frames.find((f) => f.id !== bId)!.id);
  const [points, setPoints] = useState<PanoramaPoint[]>(panorama.points);
  const [open, setOpen] = useState<{ x: number; y: number } | null>(null);
  const [a, b] = [aId, bId].map((id) => frames.find((f) => f.id === id) ?? frames[0]) as [FrameRecord, FrameRecord];
  const own = points.filter((p) => p.aId === aId && p.bId === bId);
  const add = (x: number, y: number, u: number, v: number) => {
    setPoints((all) => [...all, { aId, bId, x, y, u, v }]);
    setOpen(null);
  };
  const tool: PictureTool = {
    cursor: "crosshair",
    beside: true,
    down: (p) => {
      if (p.pane === 0) setOpen({ x: p.x, y: p.y });
      else if (open) {
        const { x, y } = open;
        ask("snapPanoramaPoint", { records, aId, bId, x, y, guess: [p.x, p.y] }).then((snapped) => {
          const good = snapped && snapped.correlation > 0.6 && Math.hypot(snapped.u - p.x, snapped.v - p.y) < 12;
          if (good) add(x, y, snapped.u, snapped.v);
          else add(x, y, p.x, p.y);
        }, report);
      } else notify("registering.leftFirst");
    },
  };
  const items = frames.map((f) => ({ id: f.id, label: sentence(message("common/frameWithin", { number: frameNumber(records, f.id) })) }));
  const choose = (side: "a" | "b", id: string) => {
    setOpen(null);
    if (side === "a") {
      setA(id);
      if (id === bId) setB(aId);
    } else {
      setB(id);
      if (id === aId) setA(bId);
    }
  };
  const places = (pane: 0 | 1) => [
    ...own.map((p, i) => ({ x: pane ? p.u : p.x, y: pane ? p.v : p.y, label: String(i + 1) })),
    ...(open && pane === 0 ? [{ ...open, label: String(own.length + 1) }] : []),
  ];
  return (
    <StageLayout
      ledger={
        <>
          <Section>
            <Heading>{sentence(message("register/placesPairCount", { count: own.length }))}</Heading>
            <Soft>{sentence("register/placeCountsMuchEight")}</Soft>
          </Section>
          <Table aria-label={sentence("register/places")}>
            <tbody>
              {own.map((p, i) => (
                <tr key={`${p.x}-${p.y}-${i}`}>
                  <td>{i + 1}</td>
                  <td>
                    {p.x.toFixed(1)}, {p.y.toFixed(1)}
                  </td>
                  <td>
                    {p.u.toFixed(1)}, {p.v.toFixed(1)}
                  </td>
                  <td>
                    <Button
                      aria-label={sentence(message("register/removePlace", { value: i + 1 }))}
                      isDisabled={readOnly}
                      onPress={() => setPoints((all) => all.filter((q) => q !== p))}
                    >
                      {sentence("common/remove")}
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      }
      bench={
        <Section>
          <Heading>{sentence("register/placesByHand")}</Heading>
          <Select label={sentence("register/left")} items={items} chosen={aId} onChoose={(id) => choose("a", id)} />
          <Select label={sentence("register/right")} items={items} chosen={bId} onChoose={(id) => choose("b", id)} />
          <RowOf>
            <PrimaryButton isDisabled={isBusy || readOnly || points === panorama.points} onPress={() => void registerPanorama({ points }).then(onClose)}>
              {sentence("register/layOutThese")}
            </PrimaryButton>
            <Button onPress={onClose}>{sentence("common/back")}</Button>
          </RowOf>
        </Section>
      }
      readout={
        <Soft style={{ padding: "6px 12px", minHeight: 30 }}>{open ? sentence("register/nowSamePlaceRight") : sentence("register/clickPlaceLeftFrame")}</Soft>
      }
    >
      <PictureView
        name={sentence("register/twoFrames")}
        panes={[
          { view: { kind: "source", frameId: a.id }, records, label: sentence(message("common/frameNumber", { number: frameNumber(records, a.id) })) },
          { view: { kind: "source", frameId: b.id }, records, label: sentence(message("common/frameNumber", { number: frameNumber(records, b.id) })) },
        ]}
        arrangement="side"
        size={a}
        tool={readOnly ? null : tool}
        overlay={({ toScreen: at, pane }) => <Points at={at} places={places(pane)} />}
      />
    </StageLayout>
  );
}
