import type { Design, Written } from "@busy-harbor/core";
import { useGoToProblem } from "../build/goToProblem.ts";

/** Expressions that read something, each a way to its place. */
export function Readers({ readers, design }: { readers: readonly Written[]; design: Design | undefined }) {
  const goTo = useGoToProblem();
  return (
    <ul>
      {readers.map(({ path, id, owner, field, label, checked }) => (
        <li key={path.join(".")}>
          <button
            className="w-full truncate py-0.5 text-left text-action"
            data-tip={checked.source}
            onClick={() => goTo({ code: "", severity: "warning", message: "", path, id, field, designId: design?.id })}
          >
            {owner}, {label.toLowerCase()}
          </button>
        </li>
      ))}
    </ul>
  );
}
