import type { Problem } from "@busy-harbor/core";

/** Problems in words; a click on one leads to its place. */
export function ProblemList({ problems, onGo }: { problems: readonly Problem[]; onGo?: (problem: Problem) => void }) {
  return (
    <ul className="mb-2 space-y-1.5" aria-label="Problems">
      {problems.map((p) => {
        const words = (
          <>
            {p.severity === "warning" ? (
              <strong className="font-semibold">Warning: {p.message}</strong>
            ) : (
              <span className="text-buoy-deep">{p.message}</span>
            )}{" "}
            {p.hint}
          </>
        );
        return (
          <li
            key={`${p.code}${p.path.join()}${p.message}`}
            className={`rounded-md border-l-[3px] text-left ${p.severity === "warning" ? "border-amber bg-water" : "border-buoy bg-warn"}`}
          >
            {onGo ? (
              <button className="block w-full px-3 py-1.5 text-left" onClick={() => onGo(p)}>
                {words}
              </button>
            ) : (
              <p className="px-3 py-1.5">{words}</p>
            )}
          </li>
        );
      })}
    </ul>
  );
}
