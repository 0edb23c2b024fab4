"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect, useState } from "react";
import { layLook, type Look } from "../../document/looks";
import { ADJUSTMENT_WORDS } from "../../kinds/adjustments/words";
import { compareLooks } from "../../words/compareLooks";
import { edit } from "../../session/openJob";
import { report, useSession } from "../../session/store";
import { listLooks, removeLook } from "../../storage/lookStore";
import { TextButton } from "../../ui/components/Button";
import { Dialog } from "../../ui/components/Dialog";
import { Figure, Section, Soft, Table } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";

/** The looks that the person keeps: lay one, compare two value by value, remove one. */
export function LooksDialog({ onClose }: { onClose: () => void }) {
  const readOnly = useSession((s) => s.readOnly);
  const [looks, setLooks] = useState<Look[] | null>(null);
  const [pair, setPair] = useState<[string, string]>(["", ""]);
  const load = () => void listLooks().then(setLooks).catch(report);
  useEffect(load, []);
  const lay = (look: Look) => {
    edit(layLook(look), { stage: "compose", label: message("step.lookLaid", { name: look.name }) });
    onClose();
  };
  const remove = async (id: string) => {
    try {
      await removeLook(id);
      load();
    } catch (error) {
      report(error);
    }
  };
  return (
    <Dialog title={sentence("compose/looks")} isOpen onClose={onClose}>
      {looks?.length === 0 && <Soft>{sentence("compose/noLookKeptYet")}</Soft>}
      {looks && looks.length > 0 && (
        <Table aria-label={sentence("compose/looks")}>
          <thead>
            <tr>
              <th>{sentence("compose/look")}</th>
              <th>{sentence("compose/adjustmentsBottomFirst")}</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {looks.map((look) => (
              <tr key={look.id}>
                <td>
                  <Figure value={look.name} word={look.createdAt.slice(0, 10)} />
                </td>
                <td>{look.steps.map((s) => ADJUSTMENT_WORDS[s.adjustment].name).join(", ")}</td>
                <td>
                  <TextButton isDisabled={readOnly} onPress={() => lay(look)} aria-label={sentence(message("compose/layLookOver", { name: look.name }))}>
                    {sentence("compose/layOver")}
                  </TextButton>{" "}
                  <TextButton onPress={() => void remove(look.id)} aria-label={sentence(message("compose/removeTheLook", { name: look.name }))}>
                    {sentence("common/remove")}
                  </TextButton>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {looks && looks.length > 1 && <Compared looks={looks} pair={pair} onChoose={setPair} />}
    </Dialog>
  );
}

function Compared({ looks, pair, onChoose }: { looks: Look[]; pair: [string, string]; onChoose: (pair: [string, string]) => void }) {
  const [a, b] = pair.map((id, i) => looks.find((l) => l.id === id) ?? looks[i]);
  const items = looks.map(({ id, name }) => ({ id, label: name }));
  const differences = compareLooks(a, b);
  return (
    <Section>
      <div style={{ display: "flex", gap: 12 }}>
        <Select label={sentence("compose/compare")} items={items} chosen={a.id} onChoose={(id) => onChoose([id, b.id])} />
        <Select label={sentence("compose/with")} items={items} chosen={b.id} onChoose={(id) => onChoose([a.id, id])} />
      </div>
      {differences.length === 0 ? (
        <Soft>{sentence("common/everyValueSame")}</Soft>
      ) : (
        <Table aria-label={sentence("compose/differencesTwoLooks")} style={{ marginTop: 8 }}>
          <thead>
            <tr>
              <th>{sentence("common/value")}</th>
              <th>{a.name}</th>
              <th>{b.name}</th>
            </tr>
          </thead>
          <tbody>
            {differences.map((d) => (
              <tr key={`${d.step}/${d.value}`}>
                <td>
                  <Figure value={d.value || d.step} word={d.value ? d.step : undefined} />
                </td>
                <td>{d.a}</td>
                <td>{d.b}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </Section>
  );
}
