import { formatNumber, type Interval } from "@busy-harbor/core";
import type { Reading } from "./readings.ts";

/** Something of a run that deserves a look, said in a sentence. */
export interface Remark {
  /** Key of the measure that it is about. */
  readonly key: string;
  readonly text: string;
  /** How much it weighs against others: from 1 for what is worth knowing to 5 for what may make all figures wrong. */
  readonly weight: number;
  /** Within a weight, the larger first. */
  readonly size: number;
}

/** At most so many of each kind are said: the worst. */
const MOST_EACH = 2;
/** Shares of time below this are not worth a word. */
const LEAST_SHARE = 0.02;
/** A level so many times its average at the end has grown: one that rises evenly from nothing ends at twice that. */
const GROWN = 1.5;

/** What deserves a look, the weightiest first. */
export function worthALook(readings: readonly Reading[]): Remark[] {
  const of = (measure: string, part?: string) =>
    readings.filter((r) => r.measure.measure === measure && r.measure.part === part && r.measure.each === undefined);
  const worst = (found: readonly Reading[], least: number, say: (r: Reading) => string, weight: number): Remark[] =>
    [...found]
      .filter(({ interval }) => interval.mean >= least)
      .sort((a, b) => b.interval.mean - a.interval.mean)
      .slice(0, MOST_EACH)
      .map((r) => ({ key: r.measure.key, text: say(r), weight, size: r.interval.mean }));
  const share = (part: string, words: (owner: string, percent: string) => string, weight: number) =>
    worst(of("state", part), LEAST_SHARE, (r) => words(r.measure.owner, percent(r.interval)), weight);
  const works = of("utilization").filter(
    ({ measure }) => measure.ownerKind !== "group" && measure.ownerKind !== "family",
  );
  const lines = of("line", "mean").filter(
    ({ measure }) => measure.ownerKind !== "group" && measure.ownerKind !== "family",
  );
  const remarks = [
    ...growing(readings),
    ...worst(
      of("lost").filter(({ measure }) => measure.ownerKind === "entity type"),
      Number.MIN_VALUE,
      (r) => `${r.measure.owner}: ${figure(r)} lost for want of room.`,
      4,
    ),
    ...worst(
      of("gaveUp.share"),
      LEAST_SHARE,
      (r) => `${r.measure.owner}: ${percent(r.interval)} of those who wait give up.`,
      4,
    ),
    ...worst(
      readings.filter((r) => r.measure.measure === "stillWaiting"),
      1,
      (r) => `${r.measure.label.replace(/: still waiting.*$/, "")}: ${figure(r)} still wait there at the end.`,
      3,
    ),
    ...worst(
      works,
      0.95,
      (r) =>
        `${r.measure.owner}: at work ${percent(r.interval)} of the time; a little more to do, and the line there grows without end.`,
      3,
    ),
    ...share(
      "blocked",
      (owner, p) => `${owner}: blocked ${p} of the time, as what is finished there finds no room ahead.`,
      2,
    ),
    ...share("needing", (owner, p) => `${owner}: waiting for a resource ${p} of the time.`, 2),
    ...share("down", (owner, p) => `${owner}: down ${p} of the time.`, 2),
    ...busiest(works),
    ...worst(
      lines,
      0.5,
      (r) => `Longest line: ${r.measure.owner}, ${figure(r)} in it on average${upTo(r, readings)}.`,
      1,
    ).slice(0, 1),
  ];
  return remarks.sort((a, b) => b.weight - a.weight || b.size - a.size);
}

/** Entity types of which there are far more at the end than on average. */
function growing(readings: readonly Reading[]): Remark[] {
  const ends = readings.filter((r) => r.measure.measure === "inSystem" && r.measure.part === "end");
  return ends.flatMap((end): Remark[] => {
    const mean = readings.find((r) => r.measure.key === end.measure.key.replace(/\.end$/, ".mean"));
    if (!mean || end.interval.n < 2) return [];
    const low = end.interval.mean - end.interval.halfWidth;
    const high = mean.interval.mean + mean.interval.halfWidth;
    if (!(low > GROWN * high) || end.interval.mean < 2) return [];
    return [
      {
        key: end.measure.key,
        text: `${end.measure.owner}: ${figure(end)} in the system at the end, ${figure(mean)} on average. Their number may grow without end; means over such a run tell more of its length than of the system.`,
        weight: 5,
        size: end.interval.mean,
      },
    ];
  });
}

/** What is busiest, where nothing is so near its limit that it was said already. */
function busiest(works: readonly Reading[]): Remark[] {
  const [first] = [...works].sort((a, b) => b.interval.mean - a.interval.mean);
  if (!first || !(first.interval.mean > 0) || first.interval.mean >= 0.95) return [];
  const { owner, key } = first.measure;
  return [
    {
      key,
      text: `Busiest: ${owner}, at work ${percent(first.interval)} of the time.`,
      weight: 1,
      size: Infinity,
    },
  ];
}

const percent = ({ mean }: Interval): string => `${formatNumber(mean * 100, 3)} %`;
const figure = ({ interval }: Reading): string => formatNumber(interval.mean, 3);

/** The most that ever stood there, over all replications. */
function upTo({ measure }: Reading, readings: readonly Reading[]): string {
  const most = readings.find((r) => r.measure.key === measure.key.replace(/\.mean$/, ".max"));
  return most ? `, up to ${formatNumber(most.interval.max, 3)}` : "";
}
