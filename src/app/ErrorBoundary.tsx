"use client";
import { Component, type ReactNode } from "react";
import styled from "styled-components";
import { closeJob } from "../session/jobs";
import { toldOf } from "../session/toldOf";
import { Button, PrimaryButton } from "../ui/components/Button";
import { tokens } from "../ui/tokens/tokens";

const Frame = styled.div`
  display: flex;
  flex: 1;
  align-items: center;
  justify-content: center;
  background: ${tokens.panel};
  > div {
    width: 440px;
    padding: 20px 24px 22px;
    border: 1px solid ${tokens.lineStrong};
  }
  p {
    margin: 6px 0 14px;
  }
  button + button {
    margin-left: 8px;
  }
`;

/** What a screen that fails leaves: a sentence, what was kept, and a way on. The job goes on being saved. */
export class ErrorBoundary extends Component<{ children: ReactNode }, { message: string | null }> {
  override state: { message: string | null } = { message: null };

  static getDerivedStateFromError(error: unknown): { message: string } {
    return { message: toldOf(error).text };
  }

  override render(): ReactNode {
    const { message } = this.state;
    if (message === null) return this.props.children;
    return (
      <Frame role="alert">
        <div>
          <h2 style={{ fontSize: tokens.size.large, fontWeight: 600 }}>This screen could not be drawn</h2>
          <p>{message}</p>
          <p>Draw the screen again, choose another stage, or go to all jobs.</p>
          <PrimaryButton onPress={() => this.setState({ message: null })}>Draw it again</PrimaryButton>
          <Button onPress={() => void closeJob()}>All jobs</Button>
        </div>
      </Frame>
    );
  }
}
