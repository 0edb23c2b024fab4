import { useEffect, useState } from "react";
import { report } from "../../../session/store";
import { isCancelled } from "../../../workers/client/EngineClient";

/** What an engine answers, asked once what it is asked of rests; undefined until it is there, null where there is nothing to ask. @param of all that the answer depends on; null: nothing to ask */
export function useAsked<T>(of: string | null, ask: (signal: AbortSignal) => Promise<T | null>): T | null | undefined {
  const [answer, setAnswer] = useState<{ of: string; told: T | null } | null>(null);
  useEffect(() => {
    if (of === null) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      ask(controller.signal)
        .then((told) => setAnswer({ of, told }))
        .catch((error: unknown) => {
          if (isCancelled(error)) return;
          setAnswer({ of, told: null });
          report(error);
        });
    }, 400);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
    // what is asked is all in the text
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [of]);
  if (of === null) return null;
  return answer?.of === of ? answer.told : undefined;
}
