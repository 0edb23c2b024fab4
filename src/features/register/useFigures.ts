"use client";
import { useEffect, useRef, useState } from "react";
import type { Records } from "../../document/records/types";
import type { PlacementFigures, Placing } from "../../engine/operations/register/placements";
import { ask } from "../../session/openJob";

/** What a placement leaves, measured again while it moves; the newest question is answered, older ones are dropped. */
export function useFigures(records: Records, frameId: string, placing: Placing | null): PlacementFigures | null {
  const [figures, setFigures] = useState<PlacementFigures | null>(null);
  const asking = useRef(false);
  const next = useRef<{ records: Records; frameId: string; placing: Placing } | null>(null);
  useEffect(() => {
    next.current = placing && { records, frameId, placing };
    if (asking.current) return;
    void (async () => {
      asking.current = true;
      while (next.current) {
        const question = next.current;
        next.current = null;
        setFigures(await ask("judgePlacement", question).catch(() => null));
      }
      asking.current = false;
    })();
  }, [records, frameId, placing]);
  return placing ? figures : null;
}
