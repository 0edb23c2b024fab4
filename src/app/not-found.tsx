"use client";
import { sentence } from "../messages/sentence";
import Link from "next/link";
import styled from "styled-components";
import { tokens } from "../ui/tokens/tokens";

const Page = styled.main`
  height: 100vh;
  display: grid;
  place-items: center;
  background: ${tokens.panelLow};
  section {
    width: 440px;
    padding: 20px 24px 22px;
    background: ${tokens.panel};
    border: 1px solid ${tokens.lineStrong};
  }
  h1 {
    font-size: ${tokens.size.large};
    font-weight: 600;
  }
  p {
    margin: 6px 0 14px;
  }
  a {
    color: ${tokens.action};
    font-weight: 600;
  }
`;

/** A page for addresses that lead nowhere. */
export default function NotFound() {
  return (
    <Page>
      <section>
        <h1>{sentence("shell/thereNothingAddress")}</h1>
        <p>{sentence("shell/yourJobsWhereThey")}</p>
        <Link href="/">{sentence("shell/goAllJobs")}</Link>
      </section>
    </Page>
  );
}
