"use client";
import { sentence, title } from "../../messages/sentence";
import { message, type Telling } from "../../messages/message";
import { useState } from "react";
import { BLEND_MODES, blendNote, type BlendMode } from "../../core/blend/blendModes";
import { newId, removeLayer } from "../../document/edits";
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
import { Select } from "../../ui/components/Select";
import { chooseLayer, useCompose } from "../../view/composeState";
import { showLive } from "../../session/live";

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
          name="Opacity"
          unit="%"
          value={layer.opacity}
          neutral={1}
          min={0}
          max={1}
          step={0.01}
          digits={0}
          scale={100}
          isDisabled={isDisabled}
          onPreview={(v) => showLive(updateLayer(layer.id, { opacity: v }))}
          onChange={(v) => change({ opacity: v }, message("step.layerOpacity", { percent: Math.round(v * 100) }))}
        />
        <Select<BlendMode>
          label="Blends"
          items={BLEND_MODES.map((id) => ({ id, label: title(`blend.${id}`) }))}
          chosen={layer.mode}
          isDisabled={isDisabled}
          onChoose={(mode) => change({ mode }, message("step.layerBlends", { mode: message(`blend.${mode}`, {}) }))}
        />
        <Soft>{sentence(blendNote(layer.mode))}</Soft>
        {(layer.content.type === "frame" || layer.content.type === "merge") && layer.mode === "normal" && (
          <MeasuredControl
            name="Mixed across its border"
            unit="px"
            value={layer.seamPx}
            neutral={0}
            min={0}
            max={200}
            step={1}
            digits={0}
            isDisabled={isDisabled}
            hint="Coarse light wide, fine detail narrow; 0 is off."
            onPreview={(v) => showLive(updateLayer(layer.id, { seamPx: v }))}
            onChange={(v) => change({ seamPx: v }, message("step.layerMixed", { px: Math.round(v) }))}
          />
        )}
        <RowOf role="group" aria-label="How it is shown">
          <Choice
            isSelected={layer.clipped}
            isDisabled={isDisabled}
            onChange={(clipped) => change({ clipped }, message(clipped ? "step.layerClipped" : "step.layerUnclipped", { name: layer.name }))}
          >
            Only on the layer below
          </Choice>
          <Choice isSelected={soloId === layer.id} onChange={(on) => useCompose.setState({ soloId: on ? layer.id : null })}>
            Alone
          </Choice>
          <Choice
            isSelected={layer.locked}
            isDisabled={readOnly}
            onChange={(locked) => change({ locked }, message(locked ? "step.layerLocked" : "step.layerUnlocked", { name: layer.name }))}
          >
            Locked
          </Choice>
        </RowOf>
      </Section>
      <Section>
        <Words key={layer.id} layer={layer} isDisabled={isDisabled} change={change} />
        <RowOf>
          <Button isDisabled={readOnly} onPress={() => edit(moveLayer(layer.id, 1), step(message("step.layerUp", { name: layer.name })))}>
            Up
          </Button>
          <Button isDisabled={readOnly} onPress={() => edit(moveLayer(layer.id, -1), step(message("step.layerDown", { name: layer.name })))}>
            Down
          </Button>
          <Button isDisabled={readOnly} onPress={() => edit(groupLayer(layer.id, "Group"), step(message("step.layerGrouped", { name: layer.name })))}>
            Into a group
          </Button>
          {look.length > 0 && <Button onPress={() => void keep()}>Keep as a look</Button>}
          <Button isDisabled={readOnly} onPress={() => edit(duplicateLayer(layer.id), step(message("step.layerDoubled", { name: layer.name })))}>
            Double
          </Button>
          <Button
            isDisabled={isDisabled}
            onPress={() => {
              edit(removeLayer(layer.id), step(message("step.layerRemoved", { name: layer.name })));
              chooseLayer(null);
            }}
          >
            Remove
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
        <Soft as="span">Name</Soft>
        <TextField
          value={name}
          disabled={isDisabled}
          onChange={(e) => setName(e.target.value)}
          onBlur={keepName}
          onKeyDown={(e) => e.key === "Enter" && keepName()}
        />
      </label>
      <label style={{ display: "block", marginTop: 6 }}>
        <Soft as="span">Note</Soft>
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
