"use client";
import { share } from "../../kinds/values";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect, useState } from "react";
import { laySpecks } from "../../document/layerEdits";
import type { DustSpot } from "../../engine/operations/retouch/cleaning";
import { ask, edit, runTask } from "../../session/openJob";
import { useSession } from "../../session/store";
import { Button, PrimaryButton, TextButton } from "../../ui/components/Button";
import { Dialog } from "../../ui/components/Dialog";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Figure, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { percent } from "../../ui/format";
import { jumpTo } from "../../view/viewState";
import { chooseLayer } from "../../view/composeState";

const SHOWN = 40;

/** Specks that are likely dust on the sensor, by certainty; those sure enough are smoothed over in one layer. */
export function DustDialog({ onClose }: { onClose: () => void }) {
  const [spots, setSpots] = useState<DustSpot[] | null>(null);
  const [least, setLeast] = useState(0.6);
  useEffect(() => {
    const { records } = useSession.getState();
    void runTask("compose", "task.allSpecks", (signal, onProgress) => ask("findDust", { records }, { signal, onProgress })).then((found) =>
      found ? setSpots(found) : onClose(),
    );
    // once, when the dialog opens
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const sure = spots?.filter((s) => s.certainty >= least) ?? [];
  const lay = () => {
    const laid = laySpecks(sure);
    edit(laid.edit, { stage: "compose", label: message("step.specks", { count: sure.length }) });
    chooseLayer(laid.layerId, "mask");
    onClose();
  };
  return (
    <Dialog title={sentence("compose/specks")} isOpen onClose={onClose}>
      <Section>
        {!spots && <Soft role="status">{sentence("compose/lookingEveryFrameDark")}</Soft>}
        {spots?.length === 0 && <Soft role="status">{sentence("compose/noSpecksWereFound")}</Soft>}
        {spots && spots.length > 0 && (
          <>
            <MeasuredControl name={sentence("compose/leastSoSure")} {...share(0.6)} value={least} onChange={setLeast} />
            <Soft role="status">{sentence(message("compose/candidatesOneStandsSame", { count: sure.length, count2: spots.length }))}</Soft>
            <div style={{ maxHeight: 320, overflowY: "auto", margin: "8px 0" }}>
              <Table aria-label={sentence("compose/specksSurestFirst")}>
                <thead>
                  <tr>
                    <th>{sentence("common/place")}</th>
                    <th>{sentence("compose/radius")}</th>
                    <th>{sentence("compose/darkerBy")}</th>
                    <th>{sentence("compose/otherFrames")}</th>
                    <th>{sentence("compose/sure")}</th>
                  </tr>
                </thead>
                <tbody>
                  {spots.slice(0, SHOWN).map((s) => (
                    <tr key={`${s.x},${s.y}`}>
                      <td>
                        <TextButton onPress={() => jumpTo({ x: s.x - 20, y: s.y - 20, width: 40, height: 40 })}>
                          {Math.round(s.x)}, {Math.round(s.y)}
                        </TextButton>
                      </td>
                      <td>
                        <Figure value={`${Math.round(s.radiusPx)} px`} />
                      </td>
                      <td>
                        <Figure value={`${s.contrastEv.toFixed(2)} EV`} />
                      </td>
                      <td>
                        <Figure value={s.of ? sentence(message("common/partOf", { part: s.frames, whole: s.of })) : sentence("compose/cannotTell")} />
                      </td>
                      <td>
                        <Figure value={percent(s.certainty)} />
                      </td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            </div>
          </>
        )}
        <RowOf>
          <PrimaryButton isDisabled={sure.length === 0} onPress={lay}>
            {sentence(message("compose/smoothOverSpecks", { count: sure.length }))}
          </PrimaryButton>
          <Button onPress={onClose}>{sentence("compose/leaveThem")}</Button>
        </RowOf>
      </Section>
    </Dialog>
  );
}
