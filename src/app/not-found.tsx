import { sentence } from "../messages/sentence";
import Link from "next/link";
import { tokens } from "../ui/tokens/tokens";

/** A page for addresses that lead nowhere. */
export default function NotFound() {
  return (
    <main style={{ height: "100vh", display: "grid", placeItems: "center", background: tokens.panelLow }}>
      <section style={{ width: 440, padding: "20px 24px 22px", background: tokens.panel, border: `1px solid ${tokens.lineStrong}` }}>
        <h1 style={{ fontSize: tokens.size.large, fontWeight: 600 }}>{sentence("shell/thereNothingAddress")}</h1>
        <p style={{ margin: "6px 0 14px" }}>{sentence("shell/yourJobsWhereThey")}</p>
        <Link href="/" style={{ color: tokens.action, fontWeight: 600 }}>
          {sentence("shell/goAllJobs")}
        </Link>
      </section>
    </main>
  );
}
