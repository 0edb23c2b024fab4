"use client";
import { sentence } from "../messages/sentence";
import { message } from "../messages/message";
import { Component, type ReactNode } from "react";
import styled from "styled-components";
import { closeJob } from "../session/jobs";
import { Button, PrimaryButton } from "../ui/components/Button";
import { tokens } from "../ui/tokens/tokens";

const Frame = styled.div<{ $whole?: boolean }>`
  ${(p) => p.$whole && "height: 100vh;"}
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

/** What a screen that fails leaves: a sentence, what was kept, and a way on. The job goes on being saved. @property whole it stands for all of the window */
export class ErrorBoundary extends Component<{ children: ReactNode; whole?: boolean }, { message: string | null }> {
  override state: { message: string | null } = { message: null };

  static getDerivedStateFromError(error: unknown): { message: string } {
    return { message: error instanceof Error ? error.message : String(error) };
  }

  override render(): ReactNode {
    const { message: fault } = this.state;
    if (fault === null) return this.props.children;
    return (
      <Frame role="alert" $whole={this.props.whole}>
        <div>
          <h2 style={{ fontSize: tokens.size.large, fontWeight: 600 }}>{sentence("shell/screenCouldNotDrawn")}</h2>
          <p>{sentence(message("shell/jobStoredWasAfter", { message: fault, isOneStage: this.props.whole ? "no" : "yes" }))}</p>
          <PrimaryButton onPress={() => this.setState({ message: null })}>{sentence("shell/drawItAgain")}</PrimaryButton>
          <Button onPress={() => void closeJob().then(() => this.setState({ message: null }))}>{sentence("shell/allJobs")}</Button>
        </div>
      </Frame>
    );
  }
}
