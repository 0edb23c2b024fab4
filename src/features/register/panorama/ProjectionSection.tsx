"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { PROJECTIONS, type ProjectionName } from "../../../core/panorama/projections";
import type { PanoramaRecord } from "../../../document/records/panoramaTypes";
import { showPanorama } from "../../../session/panorama";
import { Button } from "../../../ui/components/Button";
import { Select } from "../../../ui/components/Select";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { megapixels, pixels } from "../../../ui/format";

/** The projection in force, and why that one is proposed. */
export function ProjectionSection({ panorama, isDisabled, onCompare }: { panorama: PanoramaRecord; isDisabled: boolean; onCompare: () => void }) {
  const { view, proposal } = panorama;
  const take = (projection: ProjectionName) =>
    void showPanorama({ projection }, message("step.projection", { projection: message(`projection.${projection}`, {}) }));
  return (
    <Section>
      <Heading>Projection</Heading>
      <Select
        label="Shown as"
        items={PROJECTIONS.map((id) => ({ id, label: sentence(`projection.${id}`) }))}
        chosen={view.projection}
        onChoose={(id) => id !== view.projection && !isDisabled && take(id as ProjectionName)}
      />
      <Soft style={{ marginTop: 6 }}>
        {pixels(view.width)} × {pixels(view.height)} px, {megapixels(view.width, view.height)}.
      </Soft>
      <Soft>
        Proposed: {sentence(`projection.${proposal.projection}`)}. {sentence(proposal.reason)}
      </Soft>
      <RowOf>
        <Button onPress={onCompare}>Compare all</Button>
        {proposal.projection !== view.projection && (
          <Button isDisabled={isDisabled} onPress={() => take(proposal.projection)}>
            Take the proposal
          </Button>
        )}
      </RowOf>
    </Section>
  );
}
