"use client";
import { useEffect, useState } from "react";
import type { Tones } from "../../engine/operations/finish/measureTones";
import { ask } from "../../session/openJob";
import { report, useSession } from "../../session/store";
import { isCancelled } from "../../workers/client/EngineClient";
import { valuesOfKind, type Adjustment } from "./records";

/** What the picture holds, measured a moment after its last change. */
export function useTones(): Tones | null {
  const records = useSession((s) => s.records);
  const [tones, setTones] = useState<Tones | null>(null);
  useEffect(() => {
    const controller = new AbortController();
    const timer = setTimeout(() => {
      ask("measureTones", { records }, { signal: controller.signal })
        .then(setTones)
        .catch((error: unknown) => isCancelled(error) || report(error));
    }, 500);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [records]);
  return tones;
}

/** Light as a value of an adjustment, between its limits. */
export function heldEv(adjustment: Adjustment, name: string, ev: number): number {
  const { min, max } = valuesOfKind(adjustment)[name];
  return Math.round(10 * Math.min(max, Math.max(min, ev))) / 10;
}
