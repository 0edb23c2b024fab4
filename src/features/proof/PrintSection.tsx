"use client";
import { INTENTS, type PrintFigures } from "../../core/print/printed";
import { outputGeometry } from "../../document/outputGeometry";
import { targetOf } from "../../document/selectors";
import { asMessage, message } from "../../messages/message";
import { sentence } from "../../messages/sentence";
import { ask } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { changeTarget, choosePaper, chooseTarget, dropTarget, PAPERS } from "../../session/target";
import { Button, Choice } from "../../ui/components/Button";
import { Choices } from "../../ui/components/Choices";
import { FilePicker } from "../../ui/components/FilePicker";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Figures, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { percent } from "../../ui/format";
import { useAsked } from "../../view/useAsked";

/** What is marked on the picture as it prints. */
export const MARKS = ["none", "outside", "blocked"] as const;
export type Marks = (typeof MARKS)[number];

const MM_PER_INCH = 25.4;

/** The paper or screen that the picture goes to, and what it makes of it. */
export function PrintSection({ marks, onMarks }: { marks: Marks; onMarks: (marks: Marks) => void }) {
  const { records, readOnly, isBusy } = usePartsOf("records", "readOnly", "isBusy");
  const target = targetOf(records);
  const figures = useAsked<PrintFigures | null>(target ? records : null, (signal) => ask("measurePrint", { records }, { signal }));
  const { crop } = outputGeometry(records);
  return (
    <Section>
      <Heading>{sentence("proof/print")}</Heading>
      {!target && <Soft>{sentence("proof/printMeans")}</Soft>}
      {target && (
        <>
          <Soft>{target.name}</Soft>
          <Choices
            label={sentence("proof/marks")}
            items={MARKS.map((id) => ({ id, label: sentence(`proof/marks.${id}`) }))}
            chosen={marks}
            onChoose={onMarks}
          />
          {figures && (
            <Figures style={{ marginTop: 8 }}>
              <dt>{sentence("proof/outsideGamut")}</dt>
              <dd>{percent(figures.outside)}</dd>
              {figures.outside > 0 && (
                <>
                  <dt>{sentence("proof/missedBy")}</dt>
                  <dd>ΔE {figures.missedBy.toFixed(1)}</dd>
                </>
              )}
              <dt>{sentence("proof/printsBlack")}</dt>
              <dd>{percent(figures.blocked)}</dd>
              <dt>{sentence("proof/firstTone")}</dt>
              <dd>{figures.firstTone}</dd>
              <dt>{sentence("proof/paperWhite")}</dt>
              <dd>L* {figures.whiteL.toFixed(0)}</dd>
              <dt>{sentence("proof/inkBlack")}</dt>
              <dd>L* {figures.blackL.toFixed(0)}</dd>
              <dt>{sentence("proof/resolution")}</dt>
              <dd>{sentence(message("proof/ppi", { ppi: (crop.width * MM_PER_INCH) / target.widthMm }))}</dd>
            </Figures>
          )}
          <Select
            label={sentence("proof/intent")}
            items={INTENTS.map((id) => ({ id, label: sentence(`proof/intent.${id}`) }))}
            chosen={target.intent}
            isDisabled={readOnly}
            onChoose={(intent) => changeTarget({ intent }, message("step.targetIntent", { intent: asMessage(`proof/intent.${intent}`) }))}
          />
          <RowOf>
            <Choice isSelected={target.blackPoint} isDisabled={readOnly} onChange={(on) => changeTarget({ blackPoint: on }, "step.targetBlack")}>
              {sentence("proof/blackPoint")}
            </Choice>
            <Choice isSelected={target.paper} isDisabled={readOnly} onChange={(on) => changeTarget({ paper: on }, "step.targetPaper")}>
              {sentence("proof/paperShows")}
            </Choice>
          </RowOf>
          <MeasuredControl
            name={sentence("proof/printWidth")}
            unit="mm"
            value={target.widthMm}
            neutral={400}
            min={50}
            max={3000}
            step={5}
            digits={0}
            isDisabled={readOnly}
            onChange={(widthMm) => changeTarget({ widthMm }, message("step.targetWidth", { width: widthMm }))}
          />
        </>
      )}
      <RowOf>
        {PAPERS.filter(({ name }) => name !== target?.name).map((paper) => (
          <Button key={paper.id} isDisabled={readOnly || isBusy} onPress={() => void choosePaper(paper)}>
            {paper.name}
          </Button>
        ))}
        <FilePicker isDisabled={readOnly || isBusy} onFiles={([file]) => void chooseTarget(file, file.name)}>
          {sentence("proof/ownProfile")}
        </FilePicker>
        {target && (
          <Button isDisabled={readOnly} onPress={dropTarget}>
            {sentence("proof/noTarget")}
          </Button>
        )}
      </RowOf>
    </Section>
  );
}
