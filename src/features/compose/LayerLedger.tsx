"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import type { KeyboardEvent } from "react";
import { useDragAndDrop, type DropPosition } from "react-aria-components";
import styled from "styled-components";
import { MERGE_WORDS } from "../../kinds/merges/words";
import { moveLayer, placeBeside, updateLayer } from "../../document/layerEdits";
import { composedLayersOf, layersOf, mergeOf } from "../../document/selectors";
import { edit } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { TextButton } from "../../ui/components/Button";
import { Ledger, LedgerCell, LedgerRow } from "../../ui/components/Ledger";
import { Figure, Heading, Section } from "../../ui/components/panels";
import { percent } from "../../ui/format";
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

/** What stands before a row in the ledger lies above it. */
const PLACES: Record<DropPosition, "above" | "below" | "into"> = { before: "above", after: "below", on: "into" };

/** The layers on the merge, topmost first, as a table; drag a row, or Alt with an arrow, to put it elsewhere. */
export function LayerLedger() {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const chosen = useChosenLayer(records);
  const soloId = useCompose((s) => s.soloId);
  const rows = ledgerRows(records);
  const n = composedLayersOf(records).length;
  const merge = mergeOf(records);

  const { dragAndDropHooks } = useDragAndDrop({
    isDisabled: readOnly,
    getItems: ([id]) => [{ [LAYER_TYPE]: String(id) }],
    shouldAcceptItemDrop: ({ key, dropPosition }) => dropPosition !== "on" || layersOf(records).find((l) => l.id === key)?.content.type === "group",
    onMove: ({ keys, target }) => {
      const [id] = [...keys].map(String);
      const name = layersOf(records).find((l) => l.id === id)?.name ?? "";
      edit(placeBeside(id, String(target.key), PLACES[target.dropPosition]), { stage: "compose", label: message("step.layerElsewhere", { name }) });
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
        <Heading>{n ? sentence(message("compose/layersOnMerge", { count: n })) : sentence("compose/theMergeAlone")}</Heading>
        <AddLayer />
      </Section>
      <div onKeyDownCapture={keys}>
        <Ledger
          label={sentence("compose/layers")}
          heads={[sentence("compose/layerTopFirst"), sentence("common/mask"), sentence("compose/opacity")]}
          rows={[...rows.map(({ layer }) => ({ id: layer.id })), { id: "base", isFixed: true }]}
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
                    aria-label={`${layer.visible ? sentence("common/hide") : sentence("common/show")} "${layer.name}"`}
                    onPress={() =>
                      edit(updateLayer(layer.id, { visible: !layer.visible }), {
                        stage: "compose",
                        label: message(layer.visible ? "step.layerHidden" : "step.layerShown", { name: layer.name }),
                      })
                    }
                  >
                    {layer.locked ? sentence("compose/locked") : layer.visible ? sentence("compose/shown") : sentence("compose/hiddenWithin")}
                  </Shown>
                </LedgerCell>
              </LedgerRow>
            );
          })}
          <LedgerRow id="base">
            <LedgerCell>
              <Figure value={merge ? MERGE_WORDS[merge.method].name : ""} word={sentence("common/theBase")} />
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
