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
      <Heading>{sentence("register/projection")}</Heading>
      <Select
        label={sentence("register/shownAs")}
        items={PROJECTIONS.map((id) => ({ id, label: sentence(`projection.${id}`) }))}
        chosen={view.projection}
        onChoose={(id) => id !== view.projection && !isDisabled && take(id as ProjectionName)}
      />
      <Soft style={{ marginTop: 6 }}>
        {sentence(message("register/sizePx", { width: pixels(view.width), height: pixels(view.height), size: megapixels(view.width, view.height) }))}
      </Soft>
      <Soft>{sentence(message("register/proposedReason", { value: sentence(`projection.${proposal.projection}`), reason: sentence(proposal.reason) }))}</Soft>
      <RowOf>
        <Button onPress={onCompare}>{sentence("register/compareAll")}</Button>
        {proposal.projection !== view.projection && (
          <Button isDisabled={isDisabled} onPress={() => take(proposal.projection)}>
            {sentence("register/takeTheProposal")}
          </Button>
        )}
      </RowOf>
    </Section>
  );
}
