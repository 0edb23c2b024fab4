"use client";
import { useEffect, useState } from "react";
import type { Records } from "../../document/records/types";
import { report } from "../../session/store";

/** What an area is looked for in, and its shape. */
export interface Asked {
  records: Records;
  ratio: number | null;
}

/**
 * What is found for a ratio. While it is looked for anew, what was found before may still be shown but not be taken, since it is of another
 * ratio or another picture. @param find always the same function
 */
export function useFoundArea<Found>(find: (asked: Asked) => Promise<Found>, records: Records, ratio: number | null) {
  const [area, setArea] = useState<(Asked & { found: Found }) | null>(null);
  useEffect(() => {
    let current = true;
    find({ records, ratio }).then((found) => current && setArea({ found, ratio, records }), report);
    return () => {
      current = false;
    };
  }, [find, records, ratio]);
  return { area, looking: area?.ratio !== ratio || area.records !== records };
}
