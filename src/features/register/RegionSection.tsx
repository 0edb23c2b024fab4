"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { removeRecord } from "../../document/edits";
import type { FramePlacement, RegionRecord } from "../../document/records/types";
import { edit } from "../../session/openJob";
import { Button, Choice, TextButton } from "../../ui/components/Button";
import { Facts, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { percent, plain, withUnit } from "../../ui/format";

export interface Marking {
  purpose: RegionRecord["purpose"];
  with: "box" | "brush";
}

interface Props {
  regions: RegionRecord[];
  marking: Marking | null;
  placement: FramePlacement;
  isDisabled: boolean;
  onMark: (marking: Marking | null) => void;
  onRegister: () => void;
}

/** What has to line up, and what does not count. */
export function RegionSection({ regions, marking, placement, isDisabled, onMark, onRegister }: Props) {
  const pinned = regions.some((r) => r.purpose === "lineUp");
  const { drift } = placement;
  return (
    <Section>
      <Heading>{sentence("register/whatHasLineUp")}</Heading>
      <Soft>
        {regions.length === 0
          ? sentence("register/everythingMarkRegionIf")
          : pinned
            ? sentence("register/onlyMarkedRegionsCount")
            : sentence("register/everythingButWhatIgnored")}
      </Soft>
      {regions.length > 0 && (
        <Facts style={{ marginTop: 6 }}>
          {regions.map((r, i) => (
            <div key={r.id} style={{ display: "contents" }}>
              <dt>
                {i + 1} {r.purpose === "lineUp" ? sentence("register/linesUp") : sentence("register/ignored")}
              </dt>
              <dd>
                <TextButton
                  isDisabled={isDisabled}
                  aria-label={sentence(message("register/removeRegion", { value: i + 1 }))}
                  onPress={() => edit(removeRecord(r.id), { stage: "register", label: message("step.regionRemoved", { number: i + 1 }) })}
                >
                  {sentence("common/remove")}
                </TextButton>
              </dd>
            </div>
          ))}
          {drift && (
            <>
              <dt>{sentence("register/leftRegions")}</dt>
              <dd data-testid="pinned-residual">{withUnit(plain(placement.residualPx, 2), "px")}</dd>
              <dt>{sentence("register/driftElsewhere")}</dt>
              <dd>{sentence(message("register/agreeRmsPx", { rmsPx: withUnit(plain(drift.rmsPx, 1), "px"), share: percent(drift.agreeing) }))}</dd>
            </>
          )}
        </Facts>
      )}
      <RowOf role="group" aria-label={sentence("register/mark")}>
        {(["lineUp", "ignore"] as const).map((purpose) =>
          (["box", "brush"] as const).map((tool) => {
            const on = marking?.purpose === purpose && marking.with === tool;
            return (
              <Choice key={purpose + tool} isSelected={on} isDisabled={isDisabled} onChange={() => onMark(on ? null : { purpose, with: tool })}>
                {purpose === "lineUp" ? sentence("register/lineUp") : sentence("register/ignore")}, {tool}
              </Choice>
            );
          }),
        )}
      </RowOf>
      {regions.length > 0 && (
        <RowOf>
          <Button isDisabled={isDisabled} onPress={onRegister}>
            {sentence("register/registerOnRegions")}
          </Button>
        </RowOf>
      )}
    </Section>
  );
}
