import { compile, type MeasureInfo, measuresOf, readStudy, settles, settlingOf } from "@busy-harbor/core";
import { expose } from "comlink";

/** Figures whose settling is told: of a large design those that come first. */
const MOST_MEASURES = 300;

export interface Settled {
  readonly measures: readonly MeasureInfo[];
  /** By replication, then by measure, over equal pieces of the length of a replication. */
  readonly series: readonly (readonly (readonly number[])[])[];
}

const thread = {
  /** Runs replications and tells how levels settle in them. Throws where the design cannot run. */
  async settle(
    text: string,
    designId: string,
    { replications, pieces }: { readonly replications: number; readonly pieces: number },
    onReplication: (done: number) => Promise<void>,
  ): Promise<Settled> {
    const read = readStudy(JSON.parse(text));
    const program = read.ok ? compile(read.study, designId).program : undefined;
    if (!read.ok || !program) throw new Error("The design has problems: its card in Build lists them.");
    const all = measuresOf(program);
    const positions = all.flatMap((info, at) => (settles(info) ? [at] : [])).slice(0, MOST_MEASURES);
    const series: number[][][] = [];
    for (let replication = 1; replication <= replications; replication++) {
      series.push(settlingOf(program, { seed: read.study.run.seed, replication, pieces, measures: positions })!);
      await onReplication(replication);
    }
    return { measures: positions.map((at) => all[at]), series };
  },
};

export type SettlingThread = typeof thread;

expose(thread);
