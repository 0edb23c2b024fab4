"use client";
import { useEffect, useState } from "react";
import type { Finding } from "../document/finding";
import type { Records } from "../document/records/types";
import { ask } from "../session/openJob";
import { report, useSession } from "../session/store";
import { findingSentence, findingTitle } from "../words/findings";
import { Soft } from "../ui/components/panels";

/** What the edge of the crop cuts, told where the crop is chosen and where frames are merged, before Proof is reached. */
export function BorderNotes({ records, by }: { records: Records; by: "reference" | "picture" }) {
  const jobId = useSession((s) => s.jobId);
  const [found, setFound] = useState<{ jobId: string | null; findings: Finding[] } | null>(null);
  useEffect(() => {
    const stop = new AbortController();
    ask("inspectBorder", { records, by }, { signal: stop.signal }).then(
      (findings) => !stop.signal.aborted && setFound({ jobId, findings }),
      (e) => !stop.signal.aborted && report(e),
    );
    return () => stop.abort();
  }, [records, by, jobId]);
  // while it is asked anew what was found before stays, but never that of another job
  return (found?.jobId === jobId ? found.findings : []).map((f) => (
    <Soft key={f.id} style={{ marginTop: 6 }}>
      {findingTitle(f)}. {findingSentence(f)}
    </Soft>
  ));
}
