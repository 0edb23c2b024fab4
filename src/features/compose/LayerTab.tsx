"use client";
import { share } from "../../kinds/values";
import { sentence, title } from "../../messages/sentence";
import { message, type Telling } from "../../messages/message";
import { useState } from "react";
import { BLEND_INS, BLEND_MODES, blendNote, LINEAR_MODES, type BlendIn, type BlendMode } from "../../core/blend/blendModes";
import { newId } from "../../document/edits";
import { removeLayer } from "../../document/removal";
import { duplicateLayer, groupLayer, moveLayer, updateLayer } from "../../document/layerEdits";
import type { LayerRecord } from "../../document/records/layerTypes";
import { stepsOfLayer } from "../../document/looks";
import { edit } from "../../session/openJob";
import { notify, report, usePartsOf } from "../../session/store";
import { saveLook } from "../../storage/lookStore";
import { Button, Choice } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { RowOf, Section, Soft } from "../../ui/components/panels";
import { TextField } from "../../ui/components/TextField";
import { Choices } from "../../ui/components/Choices";
import { Select } from "../../ui/components/Select";
import { chooseLayer, useCompose } from "../../view/composeState";
import { showLive } from "../../session/live";

const BLEND_IN_WORDS: Record<BlendIn, string> = { light: sentence("cutting/light"), encoded: sentence("cutting/encoded") };

const step = (label: Telling) => ({ stage: "compose", label });

/** How a layer goes with the others: opacity, blend mode, order, name. */
export function LayerTab({ layer }: { layer: LayerRecord }) {
  const { readOnly, records } = usePartsOf("readOnly", "records");
  const soloId = useCompose((s) => s.soloId);
  const change = (next: Partial<LayerRecord>, label: Telling) => edit(updateLayer(layer.id, next), step(label));
  const isDisabled = readOnly || layer.locked;
  const look = stepsOfLayer(records, layer.id);
  const keep = async () => {
    try {
      await saveLook({ id: newId("look"), name: layer.name, createdAt: new Date().toISOString(), steps: look });
      notify(message("composing.lookKept", { name: layer.name }));
    } catch (error) {
      report(error);
    }
  };
  return (
    <>
      <Section>
        <MeasuredControl
          name={sentence("compose/opacity")}
          {...share(1)}
          value={layer.opacity}
          isDisabled={isDisabled}
          onPreview={(v) => showLive(updateLayer(layer.id, { opacity: v }))}
          onChange={(v) => change({ opacity: v }, message("step.layerOpacity", { percent: Math.round(v * 100) }))}
        />
        <Select<BlendMode>
          label={sentence("compose/blends")}
          items={BLEND_MODES.map((id) => ({ id, label: title(`blend.${id}`) }))}
          chosen={layer.mode}
          isDisabled={isDisabled}
          onChoose={(mode) => change({ mode }, message("step.layerBlends", { mode: message(`blend.${mode}`, {}) }))}
        />
        <Choices<BlendIn>
          label={sentence("cutting/blendsIn")}
          items={BLEND_INS.map((id) => ({ id, label: BLEND_IN_WORDS[id] }))}
          chosen={layer.blendIn}
          isDisabled={isDisabled || LINEAR_MODES.includes(layer.mode)}
          onChoose={(blendIn) => change({ blendIn }, message("step.layerBlendsIn", { blendIn: BLEND_IN_WORDS[blendIn].toLowerCase() }))}
        />
        <Soft>{sentence(blendNote(layer.mode, layer.blendIn))}</Soft>
        {(layer.content.type === "frame" || layer.content.type === "merge") && layer.mode === "normal" && (
          <MeasuredControl
            name={sentence("compose/mixedAcrossItsBorder")}
            unit="px"
            value={layer.seamPx}
            neutral={0}
            min={0}
            max={200}
            step={1}
            digits={0}
            isDisabled={isDisabled}
            hint={sentence("compose/coarseLightWideFine")}
            onPreview={(v) => showLive(updateLayer(layer.id, { seamPx: v }))}
            onChange={(v) => change({ seamPx: v }, message("step.layerMixed", { px: Math.round(v) }))}
          />
        )}
        <RowOf role="group" aria-label={sentence("compose/howShown")}>
          <Choice
            isSelected={layer.clipped}
            isDisabled={isDisabled}
            onChange={(clipped) => change({ clipped }, message(clipped ? "step.layerClipped" : "step.layerUnclipped", { name: layer.name }))}
          >
            {sentence("compose/onlyOnLayerBelow")}
          </Choice>
          <Choice isSelected={soloId === layer.id} onChange={(on) => useCompose.setState({ soloId: on ? layer.id : null })}>
            {sentence("compose/alone")}
          </Choice>
          <Choice
            isSelected={layer.locked}
            isDisabled={readOnly}
            onChange={(locked) => change({ locked }, message(locked ? "step.layerLocked" : "step.layerUnlocked", { name: layer.name }))}
          >
            {sentence("compose/lockedChoice")}
          </Choice>
        </RowOf>
      </Section>
      <Section>
        <Words key={layer.id} layer={layer} isDisabled={isDisabled} change={change} />
        <RowOf>
          <Button isDisabled={readOnly} onPress={() => edit(moveLayer(layer.id, 1), step(message("step.layerUp", { name: layer.name })))}>
            {sentence("compose/up")}
          </Button>
          <Button isDisabled={readOnly} onPress={() => edit(moveLayer(layer.id, -1), step(message("step.layerDown", { name: layer.name })))}>
            {sentence("common/down")}
          </Button>
          <Button
            isDisabled={readOnly}
            onPress={() => edit(groupLayer(layer.id, sentence("common/group")), step(message("step.layerGrouped", { name: layer.name })))}
          >
            {sentence("compose/intoAGroup")}
          </Button>
          {look.length > 0 && <Button onPress={() => void keep()}>{sentence("compose/keepLook")}</Button>}
          <Button isDisabled={readOnly} onPress={() => edit(duplicateLayer(layer.id), step(message("step.layerDoubled", { name: layer.name })))}>
            {sentence("compose/double")}
          </Button>
          <Button
            isDisabled={isDisabled}
            onPress={() => {
              edit(removeLayer(layer.id), step(message("step.layerRemoved", { name: layer.name })));
              chooseLayer(null);
            }}
          >
            {sentence("common/remove")}
          </Button>
        </RowOf>
      </Section>
    </>
  );
}

/** Name and note, kept when the field is left. */
function Words({ layer, isDisabled, change }: { layer: LayerRecord; isDisabled: boolean; change: (next: Partial<LayerRecord>, label: Telling) => void }) {
  const [name, setName] = useState(layer.name);
  const [note, setNote] = useState(layer.note);
  const keepName = () => {
    const next = name.trim().slice(0, 200);
    if (!next) setName(layer.name);
    else if (next !== layer.name) change({ name: next }, message("step.layerNamed", { name: layer.name, next }));
  };
  return (
    <>
      <label style={{ display: "block" }}>
        <Soft as="span">{sentence("compose/name")}</Soft>
        <TextField
          value={name}
          disabled={isDisabled}
          onChange={(e) => setName(e.target.value)}
          onBlur={keepName}
          onKeyDown={(e) => e.key === "Enter" && keepName()}
        />
      </label>
      <label style={{ display: "block", marginTop: 6 }}>
        <Soft as="span">{sentence("common/note")}</Soft>
        <TextField
          as="textarea"
          rows={2}
          value={note}
          maxLength={2000}
          disabled={isDisabled}
          onChange={(e) => setNote(e.target.value)}
          onBlur={() => note !== layer.note && change({ note }, message("step.layerNoted", { name: layer.name }))}
        />
      </label>
    </>
  );
}
