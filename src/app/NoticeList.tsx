"use client";
import { sentence } from "../messages/sentence";
import styled from "styled-components";
import { dismiss, useSession } from "../session/store";
import { TextButton } from "../ui/components/Button";
import { tokens } from "../ui/tokens/tokens";

const Notices = styled.div`
  position: fixed;
  right: 276px;
  bottom: 40px;
  z-index: 30;
  width: 380px;
  display: grid;
  gap: 6px;
  p {
    display: flex;
    justify-content: space-between;
    gap: 12px;
    padding: 8px 10px;
    background: ${tokens.field};
    border: 1px solid ${tokens.text};
    border-left: 4px solid ${tokens.finding};
  }
`;
/** Sentences for the person, until they are read. */
export function NoticeList() {
  const notices = useSession((s) => s.notices);
  return (
    <Notices role="status" aria-live="polite">
      {notices.map((n) => (
        <p key={n.id}>
          <span>{sentence(n.told)}</span>
          <TextButton aria-label={sentence("shell/dismiss")} onPress={() => dismiss(n.id)}>
            {sentence("shell/dismiss")}
          </TextButton>
        </p>
      ))}
    </Notices>
  );
}
