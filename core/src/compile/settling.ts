import type { MeasureInfo } from "../measures/info.ts";
import { specOf } from "../elements/measures.ts";
import type { Program } from "./compile.ts";
import { Session } from "./session.ts";

/** Events between two looks at `shouldStop`. */
const CHUNK = 200_000;

/** Whether it can be followed how a figure settles: the average of a level over time. */
export const settles = (info: MeasureInfo): boolean => info.part === "mean" && specOf(info)?.statistic === "level";

/**
 * How figures settle in one replication without warm-up: their averages over `pieces` equal parts of its length, by the
 * positions of the measures. A replication that ends early has fewer. Undefined when `shouldStop` says so.
 */
export function settlingOf(
  program: Program,
  {
    seed,
    replication,
    pieces,
    measures,
  }: {
    readonly seed: number;
    readonly replication: number;
    readonly pieces: number;
    readonly measures: readonly number[];
  },
  shouldStop?: () => boolean,
): number[][] | undefined {
  const session = new Session(program.model, { seed, replication, warmUp: 0 });
  const series: number[][] = measures.map(() => []);
  for (let piece = 1; piece <= pieces && !session.ended; piece++) {
    const end = (session.length * piece) / pieces;
    while (!(piece === pieces ? session.advanceTo(end, CHUNK) : session.advanceUpTo(end, CHUNK)))
      if (shouldStop?.()) return undefined;
    if (session.ended && piece < pieces) break;
    const { values } = session.cut(piece);
    measures.forEach((at, i) => series[i].push(values[at]));
  }
  return series;
}
