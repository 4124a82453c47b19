import { kindOf, measureRegistry } from "../../core/src/index.ts";

/** The page of measures: what is said of all of them, and what each kind of thing says of its own. */
export const measuresPage = (): string => `${INTRODUCTION}

${[...measureRegistry]
  .filter(([kind]) => kind !== "family")
  .map(([kind, measures]) => section(kind, measures)).join("\n\n")}

${CONCLUSION}
`;

const TITLES: Readonly<Record<string, string>> = {
  run: "A run that ends by count or condition",
  custom: "Measures of one's own",
  group: "Elements merged, as groups and families are",
  "entity type": "Entity types",
  link: "Links",
  conveyor: "Conveyors",
  way: "Walkways and roads, where others on them count",
};

type Measures = typeof measureRegistry extends ReadonlyMap<string, infer M> ? M : never;

function section(kind: string, measures: Measures): string {
  const title = TITLES[kind] ?? kindOf({ kind }).plural;
  const rows = Object.entries(measures).map(([id, spec]) => {
    const { label, definition, formula, parts, better, definitions, each } = spec;
    const ids = parts ? Object.keys(parts).map((part) => `\`${id}.${part}\``) : [`\`${id}\``];
    const more = Object.entries(definitions ?? {}).map(([part, words]) => `*${part}*: ${words}`);
    const also = each ? [`Also for each ${each}.`] : [];
    const words = [definition, ...more, ...also].join(" ");
    return `| ${label} | ${ids.join(" ")} | ${words} | ${formula} | ${better ?? ""} |`;
  });
  return [`### ${title}`, "", "| measure | id | definition | formula | better |", "|---|---|---|---|---|", ...rows].join("\n");
}

const INTRODUCTION = `<!-- Made by npm run docs from what each kind says of its measures: change it there. -->
# What is measured

Measured time *T* runs from the end of the warm-up to the end of the run. At the end of the warm-up all figures
are discarded exactly: sums and counts start at 0, time averages and maxima restart at the present level. Observations (a wait, a time
in system) count when they **end** in the measured time, with their whole length.

A *level* x(t) has the average (1/T) ∫ x(t) dt, the largest value that lasted (what it passes through within an instant does not count), and the value at the end. A *tally* of observations has mean,
largest and the 50, 90, 95 and 99 % quantiles. The p-quantile is the ⌈pn⌉-th smallest of n observations (Hyndman and Fan 1996, definition 1). It is exact as long as a replication has at most
4096 observations above 0; of more there are counts in bins of 1/128 of an octave's lower end, and it is interpolated in its bin, never beyond the least and the most: off by at most 0.8 %. Each such value carries how far it may be off, intervals are wider by the mean of that, and two
designs are called the same only where nothing is off. A figure with nothing to count is undefined, not 0.

In formulas *T* is the measured time, *n* a number of observations, and [condition] is 1 while it holds, else 0. "Better" says which direction is usually
wanted. A measure is there only where it can be other than 0: turned away where somebody can be, setups where there are such.

## By kind of thing`;

const CONCLUSION = `The parts of a time in system sum to it, apart from rounding.

## Measures of one's own
On the card of the design. An *average* of an expression over elements; the *share of time in ranges* between rising bounds (below the first, between each two, from the last on; they
sum to 1); the *share of time in which a condition holds*. They follow what they read exactly, at the end of each instant at which it changes. *Elements merged*: lines, counts and costs are summed, waits pooled
(each wait counts once), shares of time weighed by slots or units, and the utilization is all busy time over all time on shift. A run that ends by count or condition also tells its length.

## Intervals
Over *n* replications with mean m and standard deviation s (divisor n − 1), the half-width at level 1 − α is
t(1 − α/2; n − 1) · s / √n (Student 1908; Law 2015, section 4.5). Undefined values are left out of n. \`npm run bench:coverage\` shows how often such intervals hold the true value.

A long run is one replication whose measured time is cut into batches of equal length; each gives values as a replication would, and the interval is that of their means (batch means: Conway 1963; Law 2015, section
9.5.3). Levels go on from batch to batch; observations count in the batch in which they end. Measure says how many measures have batches that are like their neighbours: von Neumann's ratio (1941), one-sided at 5 %.

## Comparison
Replication r of the one design is paired with replication r of the other (common random numbers). The interval is that of the
differences, other minus baseline (Law 2015, section 10.2.1). It says "cannot tell apart" when it holds 0. "Pairing removed" is
1 − var(difference) / (var(a) + var(b)).`;
