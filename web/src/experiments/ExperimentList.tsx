import type { Study } from "@busy-harbor/core";
import { Plus } from "lucide-react";
import { useSearchParams } from "react-router";
import { useStudy } from "../state/study.ts";
import { addExperiment } from "./edits.ts";

/** Which of the study's experiments is on screen; none: its designs are compared as they are. */
export function useChosenExperiment(study: Study) {
  const [params, setParams] = useSearchParams();
  const id = params.get("experiment");
  const show = (next: string | undefined) =>
    setParams((before) => {
      const after = new URLSearchParams(before);
      if (next === undefined) after.delete("experiment");
      else after.set("experiment", next);
      return after;
    });
  return { experiment: study.experiments?.find((e) => e.id === id), show };
}

/** What can be compared: the designs as they are, and each experiment. */
export function ExperimentList({ study }: { study: Study }) {
  const { experiment, show } = useChosenExperiment(study);
  const designId = useStudy((s) => s.designId);
  const item = (id: string | undefined, name: string, under: string) => (
    <li key={id ?? ""}>
      <button
        className={`w-full rounded-lg px-2 py-1.5 text-left ${experiment?.id === id ? "bg-water" : "hover:bg-paper"}`}
        aria-current={experiment?.id === id}
        onClick={() => show(id)}
      >
        <span className="block font-medium">{name}</span>
        <span className="text-xs text-soft">{under}</span>
      </button>
    </li>
  );
  return (
    <>
      <div className="flex items-center justify-between">
        <h2 className="caps pb-1">Experiments</h2>
        <button
          className="button button-quiet px-1.5! text-xs"
          data-testid="new-experiment"
          onClick={() => show(addExperiment(designId))}
        >
          <Plus size={13} /> New
        </button>
      </div>
      <ul className="-mx-2 pb-4" data-testid="experiments">
        {item(
          undefined,
          "Designs as they are",
          `${study.designs.length} design${study.designs.length === 1 ? "" : "s"}`,
        )}
        {(study.experiments ?? []).map(({ id, name, scenarios, factors }) =>
          item(
            id,
            name,
            `${scenarios.length} scenario${scenarios.length === 1 ? "" : "s"} · ${factors.length} factor${factors.length === 1 ? "" : "s"}`,
          ),
        )}
      </ul>
    </>
  );
}
