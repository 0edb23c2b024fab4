"use client";
import { sentence } from "../messages/sentence";
import { useState } from "react";
import styled from "styled-components";
import { Dialog } from "../ui/components/Dialog";
import { Section, Soft } from "../ui/components/panels";
import { tokens } from "../ui/tokens/tokens";
import { keyName, useKeys } from "../view/keys";
import { COMMANDS } from "./commands";

const Search = styled.input`
  width: 100%;
  padding: 6px 8px;
  border: 1px solid ${tokens.lineStrong};
  background: ${tokens.field};
`;
const Item = styled.button<{ $on: boolean }>`
  display: flex;
  justify-content: space-between;
  width: 100%;
  padding: 5px 14px;
  border: 0;
  text-align: left;
  background: ${({ $on }) => ($on ? tokens.chosen : "transparent")};
  color: ${({ $on }) => ($on ? tokens.onChosen : tokens.text)};
`;

/** Find an action: every command with its key, by typing a part of its name. */
export function FindAction({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  const keys = useKeys((k) => k.of);
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const found = COMMANDS.filter((c) =>
    text
      .toLowerCase()
      .split(/\s+/)
      .every((w) => c.name.toLowerCase().includes(w)),
  );
  const run = (i: number) => {
    onClose();
    setText("");
    found[i]?.run();
  };
  return (
    <Dialog title={sentence("shell/findAnAction")} isOpen={isOpen} onClose={onClose}>
      <Section>
        <Search
          autoFocus
          aria-label={sentence("shell/action")}
          value={text}
          onChange={(e) => (setText(e.target.value), setAt(0))}
          onKeyDown={(e) => {
            if (e.key === "ArrowDown") setAt(Math.min(found.length - 1, at + 1));
            else if (e.key === "ArrowUp") setAt(Math.max(0, at - 1));
            else if (e.key === "Enter") run(at);
            else return;
            e.preventDefault();
          }}
        />
      </Section>
      {found.map((c, i) => (
        <Item key={c.name} $on={i === at} tabIndex={-1} onClick={() => run(i)}>
          <span>{c.name}</span>
          <span>{[keys[c.act] && keyName(keys[c.act]), c.fixed].filter(Boolean).join(" · ")}</span>
        </Item>
      ))}
      {found.length === 0 && (
        <Section>
          <Soft>{sentence("shell/noActionCalled")}</Soft>
        </Section>
      )}
    </Dialog>
  );
}
