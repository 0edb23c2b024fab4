"use client";
import { useEffect, useState } from "react";
import styled from "styled-components";
import { message } from "../messages/message";
import { sentence } from "../messages/sentence";
import { Button, PlainButton } from "../ui/components/Button";
import { Dialog } from "../ui/components/Dialog";
import { Heading, Section, Soft, Table } from "../ui/components/panels";
import { tokens } from "../ui/tokens/tokens";
import { canBeGiven, giveKey, keyName, KEYS_AT_FIRST, resetKeys, signOf, switchKeys, useKeys, type Act } from "../view/keys";
import { COMMANDS, FIXED_KEYS, STAGE_ACTS } from "./commands";

const ROWS = [...COMMANDS, ...STAGE_ACTS];
const nameOf = (act: Act) => ROWS.find((r) => r.act === act)?.name ?? act;

const Acts = styled(Table)`
  && td {
    padding-block: 0;
    vertical-align: middle;
  }
`;
const Key = styled(PlainButton)`
  min-width: 64px;
  min-height: ${tokens.hit.target};
  text-align: left;
  font-weight: 600;
  &[aria-pressed="true"] {
    background: ${tokens.chosen};
    color: ${tokens.onChosen};
  }
`;

const About = styled(Section)`
  display: grid;
  gap: 6px;
  justify-items: start;
`;

/** All keys on one sheet, where each act is given another. */
export function KeySheet({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  return (
    <Dialog title={sentence("shell/keys")} isOpen={isOpen} onClose={onClose}>
      <Keys />
    </Dialog>
  );
}

function Keys() {
  const { on, of } = useKeys();
  const [changing, setChanging] = useState<Act | null>(null);
  const [told, setTold] = useState("");
  useEffect(() => {
    if (!changing) return;
    const onKey = (event: KeyboardEvent) => {
      const sign = event.key === "Delete" || event.key === "Backspace" ? "" : signOf(event);
      if (sign === null && event.key !== "Escape") return;
      // before the sheet closes, or a button takes Space
      event.preventDefault();
      event.stopPropagation();
      if (sign !== null && !canBeGiven(sign)) {
        setTold(sentence(message("shell/notAKey", { key: keyName(sign) })));
        return;
      }
      setChanging(null);
      setTold("");
      if (sign === null) return;
      const other = giveKey(changing, sign);
      if (other) setTold(sentence(message("shell/keyHadBeen", { key: keyName(sign), name: nameOf(other), other: keyName(useKeys.getState().of[other]) })));
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [changing]);
  return (
    <>
      <About>
        <label>
          <input type="checkbox" checked={on} onChange={(e) => switchKeys(e.target.checked)} /> {sentence("shell/singleLettersSignsWork")}
        </label>
        <Soft>{sentence("shell/switchedOffTabArrows")}</Soft>
        <Soft>{sentence("shell/changingKeys")}</Soft>
        <Button isDisabled={of === KEYS_AT_FIRST} onPress={() => (resetKeys(), setTold(""))}>
          {sentence("shell/keysAtFirst")}
        </Button>
        <Soft role="status">{told}</Soft>
      </About>
      <Acts aria-label={sentence("shell/keys")}>
        <tbody>
          {ROWS.map(({ act, name }) => (
            <tr key={act}>
              <td>
                <Key
                  aria-label={sentence(message("shell/keyOf", { name, key: keyName(of[act]) }))}
                  aria-pressed={changing === act}
                  onPress={() => (setChanging(changing === act ? null : act), setTold(""))}
                  onBlur={() => setChanging(null)}
                >
                  {changing === act ? sentence("shell/pressKey") : keyName(of[act])}
                </Key>
              </td>
              <td>{name}</td>
            </tr>
          ))}
        </tbody>
      </Acts>
      <Section>
        <Heading>{sentence("shell/keysThatStay")}</Heading>
      </Section>
      <Table aria-label={sentence("shell/keysThatStay")}>
        <tbody>
          {FIXED_KEYS.map(({ key, name }) => (
            <tr key={name}>
              <td>{key}</td>
              <td>{name}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}
