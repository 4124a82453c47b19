import type { ReactNode } from "react";
import type { Fetched } from "./useReading.ts";

/** What was fetched, once it is there; that it is being read, or why it cannot be. */
export function Fetching<T>({
  of: { value, pending, problem },
  children,
}: {
  of: Fetched<T>;
  children: (value: T) => ReactNode;
}) {
  return (
    <div aria-busy={pending} className={`relative min-h-40 ${pending && value !== undefined ? "opacity-60" : ""}`}>
      {problem && (
        <p role="alert" className="text-buoy-deep">
          It cannot be read: {problem}
        </p>
      )}
      {value === undefined && pending && (
        <p role="status" className="pt-12 text-center text-soft">
          Reading what was kept …
        </p>
      )}
      {value !== undefined && children(value)}
    </div>
  );
}
