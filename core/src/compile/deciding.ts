import type { Deciding } from "../document/frame.ts";
import { checkExpression, makeScope, numberOf } from "../expression/index.ts";
import type { Interval } from "../inference/interval.ts";
import { specOf } from "../elements/measures.ts";
import type { MeasureInfo } from "../measures/info.ts";
import type { Dimension } from "../quantity/index.ts";

/** A deciding measure with its numbers, in SI units. */
export interface DecidingModel {
  readonly deciding: Deciding;
  /** Undefined where a design does not have it. */
  readonly info: MeasureInfo | undefined;
  readonly target: number | undefined;
  readonly matters: number | undefined;
  /** What is wrong with what is written, by field. */
  readonly problems: Readonly<Partial<Record<"measure" | "target" | "matters", string>>>;
}

/** Reads deciding measures against what is measured of a design. */
export function readDeciding(list: readonly Deciding[], measures: readonly MeasureInfo[]): DecidingModel[] {
  return list.map((deciding) => {
    const info = measures.find(({ key }) => key === deciding.measure);
    const [target, matters] = (["target", "matters"] as const).map((field) => amount(deciding[field], info?.dimension));
    const tooSmall = matters.value !== undefined && !(matters.value > 0);
    return {
      deciding,
      info,
      target: target.value,
      matters: tooSmall ? undefined : matters.value,
      problems: {
        ...(info ? {} : { measure: "The design on screen has no such measure." }),
        ...(target.problem ? { target: target.problem } : {}),
        ...(tooSmall
          ? { matters: "A difference above 0 is wanted." }
          : matters.problem
            ? { matters: matters.problem }
            : {}),
      },
    };
  });
}

const NOTHING = makeScope(new Map(), () => 0);

/** A fixed quantity of a measure's kind; nothing where none is written. */
function amount(
  text: string,
  dimension: Dimension | undefined,
): { readonly value?: number; readonly problem?: string } {
  if (text.trim() === "" || !dimension) return {};
  const found = checkExpression(text, NOTHING, numberOf(dimension));
  if (!found.ok) return { problem: [found.problems[0].message, found.problems[0].hint].filter(Boolean).join(" ") };
  return found.checked.constant === undefined
    ? { problem: "A fixed number is wanted." }
    : { value: found.checked.constant };
}

/** Which direction of a measure is usually the better one. */
export const usuallyBetter = (info: Pick<MeasureInfo, "ownerKind" | "measure">): "more" | "less" =>
  specOf(info)?.better ?? "less";

/** Whether a target is met: surely, surely not, or not to be told at the level; of one replication it is never sure. */
export type Verdict = "met" | "missed" | "open";

/** Holds the interval of a mean against a target, in one unit. */
export function targetVerdict(
  { n, mean, halfWidth }: Pick<Interval, "n" | "mean" | "halfWidth">,
  target: number,
  better: "more" | "less",
): Verdict {
  if (n < 2 || !Number.isFinite(halfWidth)) return "open";
  const [low, high] = [mean - halfWidth, mean + halfWidth];
  if (better === "less" ? high <= target : low >= target) return "met";
  return (better === "less" ? low > target : high < target) ? "missed" : "open";
}
