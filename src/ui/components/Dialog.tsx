"use client";
import type { ReactNode } from "react";
import { Dialog as AriaDialog, Heading as AriaHeading, Modal, ModalOverlay } from "react-aria-components";
import styled from "styled-components";
import { tokens } from "../tokens/tokens";

const Overlay = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  z-index: 40;
  background: rgb(40 40 40 / 55%);
  display: flex;
  align-items: flex-start;
  justify-content: center;
  padding-top: 90px;
`;
const Sheet = styled(Modal)<{ $wide?: boolean }>`
  width: ${({ $wide }) => ($wide ? 760 : 480)}px;
  max-height: calc(100vh - 140px);
  overflow: auto;
  background: ${tokens.panel};
  border: 1px solid ${tokens.text};
`;
const Title = styled(AriaHeading)`
  padding: 12px 16px 8px;
  font-size: ${tokens.size.large};
  font-weight: 600;
`;

/** A sheet above the screen; Escape closes it. */
export function Dialog({
  title,
  isOpen,
  wide,
  onClose,
  children,
}: {
  title: string;
  isOpen: boolean;
  wide?: boolean;
  onClose: () => void;
  children: ReactNode;
}) {
  return (
    <Overlay isOpen={isOpen} isDismissable onOpenChange={(open) => !open && onClose()}>
      <Sheet $wide={wide}>
        <AriaDialog>
          <Title slot="title">{title}</Title>
          {children}
        </AriaDialog>
      </Sheet>
    </Overlay>
  );
}
