import { useEffect, useRef, useState } from "react";

export interface Fetched<T> {
  readonly value: T | undefined;
  /** A newer one is under way; what is there is of what was asked before. */
  readonly pending: boolean;
  readonly problem: string | undefined;
}

/** Milliseconds that typing rests before something is asked for. */
const REST = 150;

/** Asks the server whenever `key`, which tells all that is asked for, changes; what comes too late is passed over. */
export function useReading<T>(key: string, ask: () => Promise<T>): Fetched<T> {
  const [found, setFound] = useState<Fetched<T>>({ value: undefined, pending: true, problem: undefined });
  const latest = useRef(ask);
  useEffect(() => void (latest.current = ask));
  useEffect(() => {
    let wanted = true;
    setFound(({ value }) => ({ value, pending: true, problem: undefined }));
    const timer = setTimeout(
      () =>
        void latest.current().then(
          (value) => wanted && setFound({ value, pending: false, problem: undefined }),
          (error: unknown) =>
            wanted &&
            setFound(({ value }) => ({
              value,
              pending: false,
              problem: error instanceof Error ? error.message : String(error),
            })),
        ),
      REST,
    );
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [key]);
  return found;
}
