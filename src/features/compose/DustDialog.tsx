"use client";
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
import { counted, percent } from "../../ui/format";
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
    <Dialog title="Specks" isOpen onClose={onClose}>
      <Section>
        {!spots && <Soft role="status">Looking at every frame for dark round spots in even places …</Soft>}
        {spots?.length === 0 && <Soft role="status">No specks were found in even places.</Soft>}
        {spots && spots.length > 0 && (
          <>
            <MeasuredControl
              name="At least so sure"
              unit="%"
              value={least}
              neutral={0.6}
              min={0}
              max={1}
              step={0.01}
              digits={0}
              scale={100}
              onChange={setLeast}
            />
            <Soft role="status">
              {sure.length} of {counted(spots.length, "candidate")}. One that stands at the same place of the sensor in other frames is surer; where the camera
              stood still that cannot be told.
            </Soft>
            <div style={{ maxHeight: 320, overflowY: "auto", margin: "8px 0" }}>
              <Table aria-label="Specks, the surest first">
                <thead>
                  <tr>
                    <th>Place</th>
                    <th>Radius</th>
                    <th>Darker by</th>
                    <th>Other frames</th>
                    <th>Sure</th>
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
                        <Figure value={s.of ? `${s.frames} of ${s.of}` : "cannot tell"} />
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
            Smooth over {counted(sure.length, "speck")}
          </PrimaryButton>
          <Button onPress={onClose}>Leave them</Button>
        </RowOf>
      </Section>
    </Dialog>
  );
}
