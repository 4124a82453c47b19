import type { Path } from "@busy-harbor/core/experiments";
import { SlidersHorizontal } from "lucide-react";
import { useNavigate } from "react-router";
import { useStudy } from "../state/study.ts";
import { factorAt } from "./edits.ts";
import { takeAsFactor } from "./placeAtHand.ts";

/** Beside the name of a setting: makes it a factor of an experiment, and says of which it is one. */
export function FactorButton({ path, label }: { path: Path; label: string }) {
  const navigate = useNavigate();
  const experiment = useStudy((s) => s.history?.present.experiments?.find((e) => factorAt(e, path))?.name);
  const says = experiment === undefined ? "Use as factor of an experiment" : `A factor of ${experiment}: open it`;
  const open = (id: string) =>
    void navigate(`/study/${useStudy.getState().id}/compare?experiment=${encodeURIComponent(id)}`);
  return (
    <button
      type="button"
      // The keys have a command of their own for it: one stop a setting is enough.
      tabIndex={-1}
      aria-label={`${label}: ${says}`}
      data-tip={says}
      className={`ml-1 align-middle ${experiment === undefined ? "text-soft opacity-0 group-focus-within/row:opacity-100 group-hover/row:opacity-100 focus-visible:opacity-100" : "text-action"}`}
      onClick={(event) => {
        event.preventDefault();
        takeAsFactor(path, open);
      }}
    >
      <SlidersHorizontal size={12} />
    </button>
  );
}
