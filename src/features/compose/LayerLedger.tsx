"use client";
import { message } from "../../messages/message";
import type { KeyboardEvent } from "react";
import { useDragAndDrop, type DropPosition } from "react-aria-components";
import styled from "styled-components";
import { MERGE_WORDS } from "../../kinds/merges/words";
import { moveLayer, placeLayer, updateLayer } from "../../document/layerEdits";
import type { Edit } from "../../document/edits";
import type { Records } from "../../document/records/types";
import { childrenOf, composedLayersOf, layersOf, mergeOf } from "../../document/selectors";
import { edit } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { TextButton } from "../../ui/components/Button";
import { Ledger, LedgerCell, LedgerRow } from "../../ui/components/Ledger";
import { Figure, Heading, Section } from "../../ui/components/panels";
import { counted, percent } from "../../ui/format";
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

const LAYER_TYPE = "text/marsh-layer";

/** Lays a layer above or below another in the ledger, or into a group; null where it would lie within itself. */
function laidBeside(records: Records, id: string, targetId: string, where: DropPosition): Edit | null {
  const target = layersOf(records).find((l) => l.id === targetId);
  if (!target || target.id === id || ledgerRows(records, id).some((r) => r.layer.id === targetId)) return null;
  if (where === "on") return placeLayer(id, childrenOf(records, targetId).at(-1)?.id ?? null, targetId);
  if (where === "before") return placeLayer(id, targetId, target.parentId);
  const siblings = childrenOf(records, target.parentId).filter((l) => l.id !== id);
  return placeLayer(id, siblings[siblings.findIndex((l) => l.id === targetId) - 1]?.id ?? null, target.parentId);
}

/** The layers on the merge, topmost first, as a table; drag a row, or Alt with an arrow, to put it elsewhere. */
export function LayerLedger() {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const chosen = useChosenLayer(records);
  const soloId = useCompose((s) => s.soloId);
  const rows = ledgerRows(records);
  const n = composedLayersOf(records).length;
  const merge = mergeOf(records);

  const nameOf = (id: string) => layersOf(records).find((l) => l.id === id)?.name ?? "";
  const place = (change: Edit, id: string) => edit(change, { stage: "compose", label: message("step.layerElsewhere", { name: nameOf(id) }) });
  const { dragAndDropHooks } = useDragAndDrop({
    isDisabled: readOnly,
    getItems: ([id]) => [{ [LAYER_TYPE]: String(id) }],
    shouldAcceptItemDrop: ({ key, dropPosition }) => dropPosition !== "on" || layersOf(records).find((l) => l.id === key)?.content.type === "group",
    onMove: ({ keys, target }) => {
      const [id] = [...keys].map(String);
      const change = laidBeside(records, id, String(target.key), target.dropPosition);
      if (change) place(change, id);
    },
  });
  const keys = (event: KeyboardEvent) => {
    const by = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
    if (!event.altKey || !by || readOnly || !chosen) return;
    event.preventDefault();
    event.stopPropagation();
    edit(moveLayer(chosen.id, by), { stage: "compose", label: message(by > 0 ? "step.layerUp" : "step.layerDown", { name: chosen.name }) });
  };

  return (
    <>
      <Section>
        <Heading>{n ? `${counted(n, "layer")} on the merge` : "The merge alone"}</Heading>
        <AddLayer />
      </Section>
      <div onKeyDownCapture={keys}>
        <Ledger
          label="Layers"
          heads={["Layer, top first", "Mask", "Opacity"]}
          chosen={chosen?.id ?? null}
          onChoose={chooseLayer}
          dragAndDropHooks={dragAndDropHooks}
        >
          {rows.map(({ layer, depth }) => {
            const isChosen = layer.id === chosen?.id;
            const mask = maskFigure(records, layer);
            return (
              <LedgerRow
                key={layer.id}
                id={layer.id}
                off={!layer.visible || (soloId !== null && soloId !== layer.id && !ledgerRows(records, soloId).some((r) => r.layer.id === layer.id))}
              >
                <LedgerCell>
                  <Named $depth={depth} title={layer.note || layer.name}>
                    <Figure value={layer.name} word={layerWord(records, layer)} />
                  </Named>
                </LedgerCell>
                <LedgerCell>
                  <Acting>
                    {layer.mask.parts.length > 0 && <Silhouette records={records} layerId={layer.id} />}
                    <div>
                      <Figure {...mask} />
                    </div>
                  </Acting>
                </LedgerCell>
                <LedgerCell>
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
                </LedgerCell>
              </LedgerRow>
            );
          })}
          <LedgerRow id="base" isDisabled>
            <LedgerCell>
              <Figure value={merge ? MERGE_WORDS[merge.method].name : ""} word="the base" />
            </LedgerCell>
            <LedgerCell>{null}</LedgerCell>
            <LedgerCell>
              <Figure value={percent(1)} />
            </LedgerCell>
          </LedgerRow>
        </Ledger>
      </div>
    </>
  );
}
