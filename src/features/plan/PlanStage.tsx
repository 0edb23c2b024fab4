"use client";
import { sentence } from "../../messages/sentence";
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
          <Heading>{sentence("plan/plan")}</Heading>
          <Soft>{sentence("plan/nothingPlannedJobStarts")}</Soft>
        </Section>
      }
      bench={
        <Section>
          <Heading>{sentence("plan/notPartVersion")}</Heading>
          <Soft>{sentence("plan/planningUsedBeforeShot")}</Soft>
        </Section>
      }
    >
      <EmptyPicture
        title={sentence("plan/planningWillComeHere")}
        action={<PrimaryButton onPress={() => setStage("gather")}>{sentence("common/goToGather")}</PrimaryButton>}
      >
        {sentence("plan/bracketsFromSpotReadings")}
      </EmptyPicture>
    </StageLayout>
  );
}
