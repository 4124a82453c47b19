import type { SearchPlan } from "@busy-harbor/core";
import { Plus, X } from "lucide-react";
import { NumberBox } from "../../../ui/NumberBox.tsx";
import type { ReadingProps } from "../ReadingProps.tsx";
import type { EditSearch } from "./editSearch.ts";

const MOST = 20;

/** Sums of factors, each with its coefficient, that are not to go beyond a limit. */
export function FactorLimits({
  plan,
  factors,
  problem,
  edit,
}: {
  plan: SearchPlan;
  factors: ReadingProps["factors"];
  problem: string | undefined;
  edit: EditSearch;
}) {
  const searched = factors.filter(({ factor }) => plan.ranges[factor.id] !== undefined);
  if (searched.length === 0) return null;
  return (
    <div className="pt-2">
      {plan.constraints.map(({ coefficients, most }, at) => (
        <div key={at} className="flex flex-wrap items-end gap-x-3 gap-y-1 pb-1" data-testid="factor-limit">
          {searched.map(({ factor, title }) => (
            <NumberBox
              key={factor.id}
              label={`× ${title}`}
              value={coefficients[factor.id] ?? 0}
              onChange={(n) =>
                edit(
                  "Change limit",
                  (s) => void (s.constraints[at].coefficients[factor.id] = n),
                  `limit/${at}/${factor.id}`,
                )
              }
            />
          ))}
          <NumberBox
            label="together at most"
            value={most}
            onChange={(n) => edit("Change limit", (s) => void (s.constraints[at].most = n), `limit/${at}/most`)}
          />
          <button
            type="button"
            className="button px-2!"
            aria-label={`Take limit ${at + 1} away`}
            onClick={() => edit("Take limit away", (s) => void s.constraints.splice(at, 1))}
          >
            <X size={13} />
          </button>
        </div>
      ))}
      {problem && <p className="text-xs text-buoy-deep">{problem}</p>}
      {plan.constraints.length < MOST && (
        <button
          type="button"
          className="text-action hover:underline"
          data-tip="Such as 2 × Desks + 1 × Machines at most 8: places beyond it are not tried. Choices count as 0, 1, 2 …"
          onClick={() =>
            edit("Limit factors", (s) => {
              s.constraints.push({
                coefficients: Object.fromEntries(searched.map(({ factor }) => [factor.id, 1])),
                most: 10,
              });
            })
          }
        >
          <Plus size={13} className="inline" /> Limit a sum of factors
        </button>
      )}
    </div>
  );
}
