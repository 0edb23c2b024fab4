"use client";
import { sentence } from "../../messages/sentence";
import { valueStep } from "../../messages/valueStep";
import { message, type Telling } from "../../messages/message";
import { addPart, groupPart, movePart, putIntoGroup, removePart, takeMask, ungroupParts, updateMask } from "../../document/layerEdits";
import type { LayerRecord, MaskGroup } from "../../document/records/layerTypes";
import { allParts, isPainted, type MaskPart, type PartKind } from "../../kinds/maskParts/records";
import type { Combine } from "../../kinds/maskParts/fields";
import { documentSize, layersOf, strokesOf } from "../../document/selectors";
import { PART_CONTROLS } from "../../kinds/maskParts/controls";
import { PART_WORDS, partName } from "../../kinds/maskParts/words";
import { edit } from "../../session/openJob";
import { useSession, usePartsOf } from "../../session/store";
import { Button, Choice } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { MenuButton, type MenuChoice } from "../../ui/components/MenuButton";
import { Ledger, LedgerCell, LedgerRow } from "../../ui/components/Ledger";
import { Figure, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { Acting, Silhouette } from "../../view/Silhouette";
import { BrushControls } from "./BrushControls";
import { chosenPart, useCompose } from "../../view/composeState";
import { partWord } from "./layerWords";
import { PartControls } from "./PartControls";
import { showLive } from "../../session/live";

const step = (label: Telling) => ({ stage: "compose", label });

/** The mask of a layer: its parts in order, the one worked on, and the whole. */
export function MaskTab({ layer }: { layer: LayerRecord }) {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const partId = useCompose((s) => s.partId);
  const part = chosenPart(layer, partId);
  const isDisabled = readOnly || layer.locked;
  const { mask } = layer;
  const choose = (id: string) => useCompose.setState({ partId: id, working: true });
  const add = (kind: PartKind) => {
    const shape = PART_CONTROLS[kind].begin?.(documentSize(records) ?? { width: 0, height: 0 }, records, layer);
    if (!shape) return;
    const group = part?.kind === "group" ? part : null;
    const first = (group?.parts ?? mask.parts).length === 0;
    const combine: Combine = first || isPainted(shape) ? "add" : "intersect";
    const added = addPart(layer.id, shape, combine, group?.id ?? null);
    edit(added.edit, step(message("step.partAdded", { part: PART_WORDS[kind].name, name: layer.name })));
    choose(added.partId);
  };
  const kinds = (Object.keys(PART_CONTROLS) as PartKind[])
    .filter((id) => PART_CONTROLS[id].begin)
    .map((id): MenuChoice<PartKind> => ({
      id,
      name: PART_WORDS[id].name,
      does: PART_WORDS[id].does,
      isDisabled: PART_CONTROLS[id].isOffered?.(records) === false,
    }));
  const rows = allParts(mask.parts);
  return (
    <>
      {part && isPainted(part) && (
        <Section>
          <Heading>{sentence("compose/brushHeading")}</Heading>
          <BrushControls softens={part.kind === "soften"} />
        </Section>
      )}
      <Section>
        <Heading>
          {mask.parts.length
            ? sentence(message("compose/partsCount", { count: mask.parts.length }))
            : mask.base !== Number(mask.inverted)
              ? sentence("compose/allRevealed")
              : sentence("compose/allConcealed")}
        </Heading>
        {mask.parts.length > 0 && (
          <Ledger
            label={sentence("compose/partsMask")}
            heads={[sentence("compose/part")]}
            headless
            rows={rows.map(({ part: p }) => ({ id: p.id }))}
            chosen={part?.id ?? null}
            onChoose={choose}
            style={{ marginTop: 4 }}
          >
            {rows.map(({ part: p, depth }, i) => (
              <LedgerRow key={p.id} id={p.id}>
                <LedgerCell style={{ paddingLeft: 14 + 14 * depth }}>
                  <Acting>
                    <Silhouette records={records} layerId={layer.id} partId={p.id} />
                    <div>
                      <Figure
                        value={
                          isPainted(p)
                            ? `${PART_WORDS[p.kind].name}, ${sentence(message("compose/strokesCount", { count: strokesOf(records, layer.id).filter((s) => s.partId === p.id).length }))}`
                            : partName(p)
                        }
                        word={partWord(records, p, i === 0 || rows[i - 1].depth < depth)}
                      />
                    </div>
                  </Acting>
                </LedgerCell>
              </LedgerRow>
            ))}
          </Ledger>
        )}
        <RowOf>
          <MenuButton
            label={part?.kind === "group" ? sentence("compose/addPartGroup") : sentence("compose/addAPart")}
            items={kinds}
            isDisabled={isDisabled}
            onChoose={add}
          />
          {mask.parts.length === 0 && (
            <Choice
              isSelected={mask.base === 0}
              isDisabled={isDisabled}
              onChange={(on) => edit(updateMask(layer.id, { base: on ? 0 : 1 }), step(on ? "step.maskConcealed" : "step.maskRevealed"))}
            >
              {sentence("compose/beginsConcealed")}
            </Choice>
          )}
        </RowOf>
      </Section>
      {part && (
        <Section>
          <Heading>{partName(part)}</Heading>
          <PartControls layer={layer} part={part} isDisabled={isDisabled} />
          <PartOrder layer={layer} part={part} isDisabled={isDisabled} />
        </Section>
      )}
      <WholeMask layer={layer} isDisabled={isDisabled} />
    </>
  );
}

/** The parts among which one lies. */
function siblingsOf(parts: MaskPart[], id: string): MaskPart[] {
  if (parts.some((p) => p.id === id)) return parts;
  return parts.flatMap((p) => (p.kind === "group" ? siblingsOf(p.parts, id) : []));
}

function PartOrder({ layer, part, isDisabled }: { layer: LayerRecord; part: MaskPart; isDisabled: boolean }) {
  const beside = siblingsOf(layer.mask.parts, part.id);
  const at = beside.findIndex((p) => p.id === part.id);
  const inside = new Set(allParts([part]).map((p) => p.part.id));
  const groups = allParts(layer.mask.parts).flatMap(({ part: p }, i) =>
    p.kind === "group" && !inside.has(p.id) ? [{ id: p.id, label: sentence(message("compose/groupRow", { value: i + 1 })) }] : [],
  );
  const group = () => {
    const grouped = groupPart(layer.id, part.id);
    edit(grouped.edit, step(message("step.partGrouped", { part: PART_WORDS[part.kind].name })));
    useCompose.setState({ partId: grouped.groupId });
  };
  return (
    <RowOf>
      <Button
        isDisabled={isDisabled || at === 0}
        onPress={() => edit(movePart(layer.id, part.id, -1), step(message("step.partEarlier", { part: PART_WORDS[part.kind].name })))}
      >
        {sentence("compose/earlier")}
      </Button>
      <Button
        isDisabled={isDisabled || at === beside.length - 1}
        onPress={() => edit(movePart(layer.id, part.id, 1), step(message("step.partLater", { part: PART_WORDS[part.kind].name })))}
      >
        {sentence("compose/later")}
      </Button>
      <Button
        isDisabled={isDisabled}
        onPress={() => edit(removePart(layer.id, part.id), step(message("step.partRemoved", { part: PART_WORDS[part.kind].name })))}
      >
        {sentence("compose/removePart")}
      </Button>
      {part.kind === "group" ? (
        <Button isDisabled={isDisabled} onPress={() => edit(ungroupParts(layer.id, part.id), step("step.partsUngrouped"))}>
          {sentence("common/takeGroupAway")}
        </Button>
      ) : (
        <Button isDisabled={isDisabled} onPress={group}>
          {sentence("compose/intoAGroup")}
        </Button>
      )}
      {groups.length > 0 && (
        <Select<string>
          label={sentence("compose/putInto")}
          chosen=""
          isDisabled={isDisabled}
          items={[{ id: "", label: sentence("compose/aGroup") }, ...groups]}
          onChoose={(id) => id && edit(putIntoGroup(layer.id, part.id, id), step(message("step.partGrouped", { part: PART_WORDS[part.kind].name })))}
        />
      )}
    </RowOf>
  );
}

const WHOLE: {
  of: "refinePx" | "featherPx" | "low" | "high" | "density";
  name: string;
  unit: string;
  neutral: number;
  max: number;
  step: number;
  digits: number;
  scale?: number;
  hint?: string;
}[] = [
  { of: "refinePx", name: sentence("compose/followsEdgesWithin"), unit: "px", neutral: 0, max: 100, step: 1, digits: 0, hint: sentence("compose/ofMergeOff") },
  { of: "featherPx", name: sentence("compose/featherWhole"), unit: "px", neutral: 0, max: 400, step: 1, digits: 0 },
  { of: "low", name: sentence("compose/blackFrom"), unit: "%", neutral: 0, max: 1, step: 0.01, digits: 0, scale: 100 },
  { of: "high", name: sentence("compose/whiteFrom"), unit: "%", neutral: 1, max: 1, step: 0.01, digits: 0, scale: 100 },
  { of: "density", name: sentence("compose/revealsAtMost"), unit: "%", neutral: 1, max: 1, step: 0.01, digits: 0, scale: 100 },
];

/** What is done to the mask as a whole, after its parts. */
function WholeMask({ layer, isDisabled }: { layer: LayerRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const change = (next: Partial<MaskGroup>, label: Telling) => edit(updateMask(layer.id, next), step(label));
  const others = layersOf(records).filter((l) => l.id !== layer.id);
  return (
    <Section>
      <Heading>{sentence("compose/wholeMask")}</Heading>
      <RowOf>
        <Choice
          isSelected={layer.mask.inverted}
          isDisabled={isDisabled}
          onChange={(inverted) => change({ inverted }, message("step.maskInverted", { name: layer.name }))}
        >
          {sentence("compose/invertMask")}
        </Choice>
      </RowOf>
      {WHOLE.map(({ of, name, ...range }) => (
        <MeasuredControl
          key={of}
          name={name}
          min={0}
          {...range}
          value={layer.mask[of]}
          isDisabled={isDisabled}
          onPreview={(v) => showLive(updateMask(layer.id, { [of]: v }))}
          onChange={(v) =>
            change(
              { [of]: v },
              valueStep(sentence(message("compose/maskName", { name: name.toLowerCase() })), String(Math.round(v * (range.scale ?? 1))), range.unit),
            )
          }
        />
      ))}
      {others.length > 0 && (
        <Select<string>
          label={sentence("compose/takeMask")}
          chosen=""
          isDisabled={isDisabled}
          items={[
            { id: "", label: sentence("compose/anotherLayer") },
            ...others.flatMap((l) => [
              { id: `copy ${l.id}`, label: sentence(message("compose/aCopyName", { name: l.name })) },
              { id: `link ${l.id}`, label: sentence(message("compose/followingItName", { name: l.name })) },
            ]),
          ]}
          onChoose={(choice) => {
            const [how, from] = choice.split(" ");
            const name = others.find((l) => l.id === from)?.name ?? "";
            if (from)
              edit(
                takeMask(layer.id, from, how === "link"),
                step(message(how === "link" ? "step.maskFollowed" : "step.maskTaken", { name: layer.name, from: name })),
              );
          }}
        />
      )}
      {layer.mask.parts.length === 0 && <Soft>{sentence("compose/maskWithoutPartsEven")}</Soft>}
      <Soft>
        {layersOf(records).some((l) => allParts(l.mask.parts).some(({ part: p }) => p.kind === "link" && p.layerId === layer.id))
          ? sentence("compose/otherMasksFollowOne")
          : ""}
      </Soft>
    </Section>
  );
}
