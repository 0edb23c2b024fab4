"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import type { KeyboardEvent } from "react";
import styled from "styled-components";
import { AIM_KINDS } from "../../../core/weave/judgeRegions";
import type { WeaveRecord, WeaveRegion } from "../../../document/records/weaveTypes";
import { frameNumber } from "../../../document/selectors";
import { chooseForRegion, rankedFor } from "../../../document/weaveEdits";
import { edit } from "../../../session/openJob";
import { usePartsOf } from "../../../session/store";
import { Ledger, LedgerCell, LedgerRow } from "../../../ui/components/Ledger";
import { Figure, Heading, Section, Soft } from "../../../ui/components/panels";
import { Acting, CellSilhouette } from "../../../view/Silhouette";
import { FrameCell } from "../FrameCell";
import { useCompose } from "../../../view/composeState";

const Scroll = styled.div`
  overflow-x: auto;
`;
/** A long name goes on in a second line. */
const Named = styled.div`
  span:first-child {
    white-space: normal;
  }
`;
/** Takes a region from a frame, as one step. */
export function takeFrame(region: WeaveRegion, frameId: string | null, name: string): void {
  if (region.choice !== frameId)
    edit(chooseForRegion(region.id, frameId), { stage: "compose", label: message("step.regionFrom", { name: region.name, source: name }) });
}

/** Regions × frames: what each frame is worth in each region, by the region's own measure, and which is taken. */
export function WeaveLedger({ weave }: { weave: WeaveRecord }) {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const regionId = useCompose((s) => s.regionId);
  const choose = (id: string) => useCompose.setState({ regionId: id });
  const numbers = weave.frameIds.map((id) => frameNumber(records, id));
  const names = numbers.map((number) => sentence(message("common/frameWithin", { number })));
  const chosen = weave.regions.find((r) => r.id === regionId);
  // left and right go along the frames, as up and down go along the regions
  const keys = (event: KeyboardEvent) => {
    const by = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (!by || !chosen) return;
    event.preventDefault();
    event.stopPropagation();
    if (readOnly) return;
    const next = Math.min(weave.frameIds.length - 1, Math.max(0, weave.frameIds.indexOf(chosen.choice ?? "") + by));
    takeFrame(chosen, weave.frameIds[next], names[next]);
  };

  return (
    <>
      <Section>
        <Heading>{sentence(message("compose/regionsCount", { count: weave.regions.length }))}</Heading>
        <Soft>{sentence("compose/frameTakenWhereBest")}</Soft>
      </Section>
      <Scroll onKeyDownCapture={keys}>
        <Ledger
          label={sentence("compose/regionsAndFrames")}
          heads={[sentence("compose/regionAimFrame"), ...numbers.map(String)]}
          rows={weave.regions.map((region) => ({ id: region.id }))}
          chosen={regionId}
          onChoose={choose}
        >
          {weave.regions.map((region) => {
            const isChosen = region.id === regionId;
            const best = rankedFor(records, weave, region.aim, region.cells).order[0];
            return (
              <LedgerRow key={region.id} id={region.id}>
                <LedgerCell style={{ maxWidth: 136, overflow: "hidden" }}>
                  <Acting>
                    <CellSilhouette runs={region.runs} columns={weave.columns} rows={weave.rows} />
                    <Named>
                      <Figure value={region.name} word={[sentence(`aim.${region.aim}`), AIM_KINDS[region.aim].unit].filter(Boolean).join(", ")} />
                    </Named>
                  </Acting>
                </LedgerCell>
                {weave.frameIds.map((frameId, k) => (
                  <LedgerCell key={frameId}>
                    <FrameCell
                      type="button"
                      tabIndex={-1}
                      disabled={readOnly}
                      $taken={region.choice === frameId}
                      $row={isChosen}
                      aria-pressed={region.choice === frameId}
                      aria-label={sentence(
                        message("compose/fromName", {
                          name: region.name,
                          value: names[k],
                          value2: AIM_KINDS[region.aim].shown(region.cells[k]),
                          unit: AIM_KINDS[region.aim].unit,
                          isBest: k === best ? "yes" : "no",
                        }),
                      )}
                      onClick={() => takeFrame(region, frameId, names[k])}
                    >
                      {AIM_KINDS[region.aim].shown(region.cells[k])}
                      {k === best && " •"}
                    </FrameCell>
                  </LedgerCell>
                ))}
              </LedgerRow>
            );
          })}
        </Ledger>
      </Scroll>
    </>
  );
}
