import { useEffect, useState } from "react";
import { report } from "../session/store";
import { isCancelled } from "../workers/client/EngineClient";

/** What an engine answers, asked once what it is asked of rests; undefined until it is there, null where there is nothing to ask. @param of all that the answer depends on, as a text or as an object that is never changed in place; null: nothing to ask */
export function useAsked<T>(of: string | object | null, ask: (signal: AbortSignal) => Promise<T | null>): T | null | undefined {
  const [answer, setAnswer] = useState<{ of: string | object; told: T | null } | null>(null);
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
    // all that is asked follows from it
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [of]);
  if (of === null) return null;
  return answer?.of === of ? answer.told : undefined;
}
