import { type ExperimentPlan, type MeasureInfo, measuresOf, type Study } from "@busy-harbor/core";
import { useMemo } from "react";
import { compiled } from "../state/compiled.ts";

/** What was last measured of a design, where it cannot be compiled just now. */
const last = new Map<string, readonly MeasureInfo[]>();

/** What is measured of any of the designs of an experiment. */
export function useMeasures(study: Study, { scenarios }: Pick<ExperimentPlan, "scenarios">): readonly MeasureInfo[] {
  const ids = [...new Set(scenarios.map(({ design }) => design))].join("\n");
  return useMemo(() => {
    const all = new Map<string, MeasureInfo>();
    for (const id of ids.split("\n")) {
      if (!study.designs.some((d) => d.id === id)) continue;
      const { program } = compiled(study, id);
      if (program) last.set(id, measuresOf(program));
      for (const info of last.get(id) ?? []) if (!all.has(info.key)) all.set(info.key, info);
    }
    return [...all.values()];
  }, [study, ids]);
}
