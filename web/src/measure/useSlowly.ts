import { useEffect, useRef, useState } from "react";

/** A value that follows another with the same key at most once a second. */
export function useSlowly<T extends { readonly key: string }>(value: T): T {
  const [shown, setShown] = useState(value);
  const last = useRef(0);
  useEffect(() => {
    const wait = value.key === shown.key ? last.current + 1000 - Date.now() : 0;
    const timer = setTimeout(
      () => {
        last.current = Date.now();
        setShown(value);
      },
      Math.max(0, wait),
    );
    return () => clearTimeout(timer);
    // A change of what is shown is no reason to show it again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [value]);
  return shown;
}
