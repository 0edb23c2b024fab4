"use client";
import { useState } from "react";
import { outputGeometry } from "../../document/outputGeometry";
import { finishStepsOf } from "../../document/selectors";
import { hasVariants, VARIANTS, variantOf } from "../../document/variants";
import { message } from "../../messages/message";
import { sentence } from "../../messages/sentence";
import { edit } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { Heading, Section, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { percent } from "../../ui/format";
import { Patch, Patches, PatchPicture } from "../../view/patches";

/** Less and more of a step in small pictures, to choose by eye; one press takes one. */
export function VariantsSection() {
  const { records, readOnly, isBusy, history } = usePartsOf("records", "readOnly", "isBusy", "history");
  const [chosen, setChosen] = useState<string | null>(null);
  const steps = finishStepsOf(records).filter((l) => l.visible && hasVariants(l));
  const layer = steps.find((l) => l.id === chosen);
  if (steps.length === 0) return null;
  const { crop } = outputGeometry(records);
  const whole = { x: 0, y: 0, width: crop.width, height: crop.height };
  return (
    <Section>
      <Heading>{sentence("finish/variants")}</Heading>
      <Select
        label={sentence("finish/variantsOf")}
        items={[{ id: "", label: sentence("common/none") }, ...[...steps].reverse().map(({ id, name }) => ({ id, label: name }))]}
        chosen={layer?.id ?? ""}
        onChoose={(id) => setChosen(id || null)}
      />
      {layer ? (
        <Patches role="group" aria-label={sentence("finish/variants")} style={{ marginTop: 8, gridTemplateColumns: "repeat(3, 1fr)" }}>
          {VARIANTS.map((times) => {
            const change = variantOf(layer.id, times);
            return (
              <Patch
                key={times}
                isSelected={times === 1}
                isDisabled={readOnly || isBusy || times === 1}
                onChange={() => edit(change, { stage: "finish", label: message("step.variant", { name: layer.name, share: percent(times) }) })}
              >
                <PatchPicture view={{ kind: "output" }} rectangle={whole} of={crop} records={change(records)} state={history.head ?? ""} />
                {times === 0 ? sentence("finish/variantNone") : times === 1 ? sentence("common/now") : percent(times)}
              </Patch>
            );
          })}
        </Patches>
      ) : (
        <Soft style={{ marginTop: 6 }}>{sentence("finish/variantsMeans")}</Soft>
      )}
    </Section>
  );
}
