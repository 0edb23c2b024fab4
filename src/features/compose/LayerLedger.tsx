"use client";
import { message } from "../../messages/message";
import { useState, type DragEvent, type KeyboardEvent } from "react";
import styled from "styled-components";
import { MERGE_WORDS } from "../../kinds/merges/words";
import { moveLayer, placeLayer, updateLayer } from "../../document/layerEdits";
import type { LayerRecord } from "../../document/records/layerTypes";
import { childrenOf, composedLayersOf, layersOf, mergeOf } from "../../document/selectors";
import { edit } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { TextButton } from "../../ui/components/Button";
import { Figure, Heading, Row, Section, Table } from "../../ui/components/panels";
import { counted, percent } from "../../ui/format";
import { rowKeys } from "../../view/rowKeys";
import { Acting, Silhouette } from "../../view/Silhouette";
import { AddLayer } from "./AddLayer";
import { chooseLayer, ledgerRows, useChosenLayer, useCompose } from "../../view/composeState";
import { layerWord, maskFigure } from "./layerWords";

const Named = styled.div<{ $depth: number }>`
  padding-left: ${({ $depth }) => $depth * 12}px;
  max-width: 140px;
  overflow: hidden;
`;
const Shown = styled(TextButton)<{ $chosen: boolean }>`
  font-size: inherit;
  ${({ $chosen }) => $chosen && "color: inherit;"}
`;

/** The layers on the merge, topmost first, as a table; drag a row, or Alt with an arrow, to put it elsewhere. */
export function LayerLedger() {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const chosen = useChosenLayer(records);
  const soloId = useCompose((s) => s.soloId);
  const [dragged, setDragged] = useState<string | null>(null);
  const rows = ledgerRows(records);
  const n = composedLayersOf(records).length;
  const merge = mergeOf(records);
  const ids = rows.map((r) => r.layer.id);

  const keys = (layer: LayerRecord) => (event: KeyboardEvent<HTMLTableRowElement>) => {
    if (event.target !== event.currentTarget) return;
    const by = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
    if (!event.altKey || !by || readOnly) return rowKeys(ids, layer.id, chooseLayer)(event);
    event.preventDefault();
    edit(moveLayer(layer.id, by), { stage: "compose", label: message(by > 0 ? "step.layerUp" : "step.layerDown", { name: layer.name }) });
  };
  const drop = (target: LayerRecord, event: DragEvent<HTMLTableRowElement>) => {
    event.preventDefault();
    setDragged(null);
    if (!dragged || dragged === target.id) return;
    const { top, height } = event.currentTarget.getBoundingClientRect();
    const onUpper = event.clientY < top + height / 2;
    const siblings = childrenOf(records, target.parentId).filter((l) => l.id !== dragged);
    const below = siblings[siblings.findIndex((l) => l.id === target.id) - 1]?.id ?? null;
    const place = onUpper
      ? placeLayer(dragged, target.id, target.parentId)
      : target.content.type === "group"
        ? placeLayer(dragged, childrenOf(records, target.id).at(-1)?.id ?? null, target.id)
        : placeLayer(dragged, below, target.parentId);
    edit(place, { stage: "compose", label: message("step.layerElsewhere", { name: layersOf(records).find((l) => l.id === dragged)?.name ?? "" }) });
  };

  return (
    <>
      <Section>
        <Heading>{n ? `${counted(n, "layer")} on the merge` : "The merge alone"}</Heading>
        <AddLayer />
      </Section>
      <Table aria-label="Layers">
        <thead>
          <tr>
            <th>Layer, top first</th>
            <th>Mask</th>
            <th>Opacity</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ layer, depth }) => {
            const isChosen = layer.id === chosen?.id;
            const mask = maskFigure(records, layer);
            return (
              <Row
                key={layer.id}
                $chosen={isChosen}
                $off={!layer.visible || (soloId !== null && soloId !== layer.id && !ledgerRows(records, soloId).some((r) => r.layer.id === layer.id))}
                tabIndex={isChosen ? 0 : -1}
                aria-selected={isChosen}
                draggable={!readOnly}
                onDragStart={() => setDragged(layer.id)}
                onDragOver={(e) => dragged && e.preventDefault()}
                onDrop={(e) => drop(layer, e)}
                onClick={() => chooseLayer(layer.id)}
                onKeyDown={keys(layer)}
              >
                <td>
                  <Named $depth={depth} title={layer.note || layer.name}>
                    <Figure value={layer.name} word={layerWord(records, layer)} />
                  </Named>
                </td>
                <td>
                  <Acting>
                    {layer.mask.parts.length > 0 && <Silhouette records={records} layerId={layer.id} />}
                    <div>
                      <Figure {...mask} />
                    </div>
                  </Acting>
                </td>
                <td>
                  <Figure value={percent(layer.opacity)} />
                  <Shown
                    $chosen={isChosen}
                    isDisabled={readOnly}
                    aria-label={`${layer.visible ? "Hide" : "Show"} "${layer.name}"`}
                    onPress={() =>
                      edit(updateLayer(layer.id, { visible: !layer.visible }), {
                        stage: "compose",
                        label: message(layer.visible ? "step.layerHidden" : "step.layerShown", { name: layer.name }),
                      })
                    }
                  >
                    {layer.locked ? "locked" : layer.visible ? "shown" : "hidden"}
                  </Shown>
                </td>
              </Row>
            );
          })}
          <tr>
            <td>
              <Figure value={merge ? MERGE_WORDS[merge.method].name : ""} word="the base" />
            </td>
            <td />
            <td>
              <Figure value={percent(1)} />
            </td>
          </tr>
        </tbody>
      </Table>
    </>
  );
}
