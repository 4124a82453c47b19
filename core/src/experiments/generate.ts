import { fractionalFactorial, fullFactorial, latinHypercube } from "../inference/plans.ts";
import { applyJump, seedWords, streamJump, UniformSource } from "../random/mrg32k3a.ts";
import { MOST_SCENARIOS } from "../document/experiment.ts";
import { writeNumber, writtenNumber } from "./levels.ts";

/** Rows of values, one a factor in their order; or why there are none. */
export type Rows =
  | {
      readonly ok: true;
      readonly rows: readonly (readonly string[])[];
      /** Of a fraction: the shortest word of its defining relation, and how further factors follow from the first. */
      readonly resolution?: number;
      readonly generators?: readonly string[];
    }
  | { readonly ok: false; readonly message: string };

const tooMany = (count: number): Rows => ({
  ok: false,
  message: `That would be ${count} scenarios; an experiment has at most ${MOST_SCENARIOS}. Take fewer levels, or a fraction.`,
});

/** Each factor through its levels while the others stay at their first; the row of all first levels comes once. */
export function sweep(levels: readonly (readonly string[])[]): Rows {
  const first = levels.map((of) => of[0]);
  const rows = [first];
  levels.forEach((of, f) => {
    for (const level of of.slice(1)) rows.push(first.map((text, i) => (i === f ? level : text)));
  });
  return rows.length > MOST_SCENARIOS ? tooMany(rows.length) : { ok: true, rows };
}

/** All combinations of the levels; the last factor changes fastest. */
export function factorialRows(levels: readonly (readonly string[])[]): Rows {
  const count = levels.reduce((product, of) => product * of.length, 1);
  if (count > MOST_SCENARIOS) return tooMany(count);
  const plan = fullFactorial(levels.map((of) => of.length));
  return { ok: true, rows: plan.map((row) => row.map((level, f) => levels[f][level])) };
}

/** A fraction 1/2^p of all combinations of the first and the last level of each factor. */
export function fractionRows(levels: readonly (readonly string[])[], p: number): Rows {
  const fraction = fractionalFactorial(levels.length, p);
  if (!fraction) return { ok: false, message: `No fraction 1/${2 ** p} is known for ${levels.length} factors.` };
  const short = levels.findIndex((of) => of.length < 2);
  if (short >= 0) return { ok: false, message: "Each factor of a fraction needs a low and a high level." };
  const { plan, resolution, generators } = fraction;
  return {
    ok: true,
    rows: plan.map((row) => row.map((level, f) => levels[f][level === 0 ? 0 : levels[f].length - 1])),
    resolution,
    generators,
  };
}

/**
 * So many rows that fill the ranges from the first to the last level of each factor evenly (a Latin hypercube). Factors
 * whose two ends are whole numbers without a unit get whole numbers.
 */
export function hypercubeRows(levels: readonly (readonly string[])[], count: number, seed: number): Rows {
  if (count > MOST_SCENARIOS) return tooMany(count);
  const ends = levels.map((of) => [writtenNumber(of[0]), writtenNumber(of.at(-1)!)] as const);
  if (ends.some(([low, high]) => !low || !high))
    return { ok: false, message: "A hypercube needs two numbers for each factor, from and to." };
  const source = new UniformSource(applyJump(streamJump(1), seedWords(seed)));
  const cube = latinHypercube(count, levels.length, () => source.next());
  return {
    ok: true,
    rows: cube.map((point) =>
      point.map((u, f) => {
        const [low, high] = [ends[f][0]!, ends[f][1]!];
        const end = (high.number * high.factor) / low.factor;
        const isWhole = low.unit === "" && Number.isInteger(low.number) && Number.isInteger(end);
        // Whole numbers have each an even part of the range.
        const value = isWhole
          ? low.number + Math.floor(u * (end - low.number + 1))
          : low.number + u * (end - low.number);
        return writeNumber(isWhole ? value : Number(value.toPrecision(4)), low.unit);
      }),
    ),
  };
}
