"use client";
import { setStage } from "../../session/openJob";
import { PrimaryButton } from "../../ui/components/Button";
import { Heading, Section, Soft } from "../../ui/components/panels";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";

/** Plan comes in a later version; the page says what it will do. */
export function PlanStage() {
  return (
    <StageLayout
      ledger={
        <Section>
          <Heading>Plan</Heading>
          <Soft>Nothing is planned in this job. It starts with the frames.</Soft>
        </Section>
      }
      bench={
        <Section>
          <Heading>Not part of this version</Heading>
          <Soft>Planning is used before the shot; nothing in this job waits for it.</Soft>
        </Section>
      }
    >
      <EmptyPicture title="Planning will come here" action={<PrimaryButton onPress={() => setStage("gather")}>Go to Gather</PrimaryButton>}>
        Brackets from spot readings, focus distances, panorama rows, separate shots and night skies, each as a field card to take along.
      </EmptyPicture>
    </StageLayout>
  );
}
