"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useState } from "react";
import { RESIDUAL_EV } from "../../core/retouch/findRemnants";
import type { Twin } from "../../core/retouch/findTwins";
import type { LayerRecord } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";
import type { RemnantAudit } from "../../engine/operations/retouch/remnants";
import { ask, runTask } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { Button, TextButton } from "../../ui/components/Button";
import { Figure, Heading, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { signed, withUnit } from "../../ui/format";
import { jumpTo } from "../../view/viewState";
import { takesAway, useCompose } from "../../view/composeState";

interface Checked {
  records: Records;
  layerId: string;
  audit: RemnantAudit | null;
  twins: Twin[] | null;
}

/** What is left of a thing that a layer takes away, and patches that betray a copy by standing twice. */
export function CleanSection({ layer }: { layer: LayerRecord }) {
  const { records, isBusy } = usePartsOf("records", "isBusy");
  const [checked, setChecked] = useState<Checked | null>(null);
  const { content } = layer;
  const residualShown = useCompose((state) => state.shown === "residual");
  const copies = content.type === "retouch" && content.method !== "smooth";
  if (!takesAway(layer)) return null;
  const check = () =>
    runTask("compose", "task.remnants", async (signal, onProgress) => {
      const audit = await ask("auditRemnants", { records, layerId: layer.id }, { signal, onProgress });
      const twins = copies ? await ask("findTwins", { records }, { signal, onProgress }) : null;
      setChecked({ records, layerId: layer.id, audit, twins });
    });
  const shown = checked?.layerId === layer.id ? checked : null;
  const stale = shown !== null && shown.records !== records;
  return (
    <Section>
      <Heading>{sentence("compose/wasTakenAwayWhole")}</Heading>
      <RowOf style={{ marginTop: 4 }}>
        <Button isDisabled={isBusy} onPress={() => void check()}>
          {shown ? sentence("common/lookAgain") : sentence("compose/lookForRemnants")}
        </Button>
        {residualShown ? (
          <TextButton onPress={() => useCompose.setState({ shown: "result" })}>{sentence("compose/showTheResult")}</TextButton>
        ) : (
          <TextButton onPress={() => useCompose.setState({ shown: "residual" })}>{sentence("compose/showThemLifted")}</TextButton>
        )}
      </RowOf>
      {residualShown && <Soft>{sentence(message("compose/greyOughtLighterDarker", { RESIDUAL_EV }))}</Soft>}
      {stale && <Soft>{sentence("compose/pictureHasChangedSince")}</Soft>}
      {shown && <Remnants audit={shown.audit} />}
      {shown?.twins && <Twins twins={shown.twins} />}
    </Section>
  );
}

const SHOWN = 12;

function Remnants({ audit }: { audit: RemnantAudit | null }) {
  if (!audit) return <Soft role="status">{sentence("compose/layerTakesNothingAway")}</Soft>;
  const { remnants } = audit;
  const compared = audit.compared === "frame" ? sentence("compose/frameShows") : sentence("compose/itsSurroundings");
  return (
    <>
      <Soft role="status">
        {remnants.length === 0
          ? sentence(message("compose/nothingLeftCompared", { compared }))
          : sentence(message("compose/remnantsAgainstCount", { count: remnants.length, compared }))}
      </Soft>
      {remnants.length > 0 && (
        <Table aria-label={sentence("compose/remnants")}>
          <thead>
            <tr>
              <th>{sentence("common/place")}</th>
              <th>{sentence("common/size")}</th>
              <th>{sentence("compose/contrast")}</th>
            </tr>
          </thead>
          <tbody>
            {remnants.slice(0, SHOWN).map(({ place, areaPx, contrastEv }) => (
              <tr key={`${place.x},${place.y}`}>
                <td>
                  <TextButton onPress={() => jumpTo(place)}>
                    {Math.round(place.x + place.width / 2)}, {Math.round(place.y + place.height / 2)}
                  </TextButton>
                </td>
                <td>
                  <Figure value={`${areaPx} px`} />
                </td>
                <td>
                  <Figure value={withUnit(signed(contrastEv, 1), "EV")} />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {remnants.length > SHOWN && <Soft>{sentence(message("compose/andSmallerOnes", { count: remnants.length - SHOWN }))}</Soft>}
    </>
  );
}

function Twins({ twins }: { twins: Twin[] }) {
  if (twins.length === 0) return <Soft role="status">{sentence("compose/noPatchStandsTwice")}</Soft>;
  return (
    <>
      <Soft role="status">{sentence(message("compose/patchesStandTwice", { count: twins.length }))}</Soft>
      {twins.slice(0, SHOWN).map((t) => (
        <RowOf key={`${t.ax},${t.ay},${t.bx}`} style={{ marginTop: 2 }}>
          {(
            [
              [t.ax, t.ay],
              [t.bx, t.by],
            ] as const
          ).map(([x, y]) => (
            <TextButton key={`${x},${y}`} onPress={() => jumpTo({ x: x - t.radius, y: y - t.radius, width: 2 * t.radius, height: 2 * t.radius })}>
              {Math.round(x)}, {Math.round(y)}
            </TextButton>
          ))}
          <Soft as="span">{sentence(message("compose/detailsAlikeCount", { count: t.count }))}</Soft>
        </RowOf>
      ))}
    </>
  );
}
