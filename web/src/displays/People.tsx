import type { Display } from "@busy-harbor/core";
import { Figure } from "./Figure.tsx";

/** As many people from the side as a number says; of more than are drawn the number is told. */
export function People({
  display: { posture, most },
  value,
  words,
}: {
  readonly display: Extract<Display, { kind: "people" }>;
  readonly value: number;
  readonly words: string;
}) {
  const all = Number.isFinite(value) ? Math.max(0, Math.floor(value)) : 0;
  const drawn = Math.min(all, most);
  return (
    <div className="flex max-w-64 min-w-24 flex-wrap items-end gap-1" role="img" aria-label={`${words} ${posture}`}>
      {Array.from({ length: drawn }, (_, i) => (
        <Figure key={i} posture={posture} number={i + 1} />
      ))}
      {all > drawn && <span className="pb-1 font-semibold tabular-nums">and {all - drawn} more</span>}
      {!Number.isFinite(value) && (
        <span className="opacity-35">
          <Figure posture={posture} number={0} />
        </span>
      )}
      {all === 0 && (
        <span className="flex h-9 items-end pb-1 text-soft">{Number.isFinite(value) ? "nobody" : words}</span>
      )}
    </div>
  );
}
