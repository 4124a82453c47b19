import { performance } from "node:perf_hooks";
import { TIME } from "../core/src/index.ts";
import { newFigures } from "../server/src/runs/figures.ts";
import { pack } from "../server/src/store/packed.ts";
import { newFiguresSchema, RunStatistics } from "../core/src/contract/index.ts";
import { readingsOf } from "../web/src/measure/readings.ts";
import type { RunFigures } from "../web/src/state/figures.ts";
import { LiveFigures } from "../web/src/state/liveFigures.ts";

const MEASURES = 20_000;
const UPDATES = 40;

const middle = (times: number[]): number => times.sort((a, b) => a - b)[times.length >> 1];

/** Milliseconds that the server's thread and the page's spend on one update of a run with many measures. */
export function liveDeltas(): { readonly server: number; readonly page: number } {
  const measures = Array.from({ length: MEASURES }, (_, i) => ({
    key: `e${i}/wait.mean`,
    ownerId: `e${i}`,
    owner: `Desk ${i}`,
    ownerKind: "station",
    id: "wait.mean",
    measure: "wait",
    part: "mean",
    label: "Wait, mean",
    dimension: [...TIME] as [number, number, number, number],
  }));
  const statistics = new RunStatistics();
  const live = new LiveFigures("", []);
  let figures: RunFigures = { measures, statistics: live.numbers, columns: new Map() };
  const [server, page]: [number[], number[]] = [[], []];
  for (let replication = 1; replication <= UPDATES; replication++) {
    const values = measures.map((_, i) => i + Math.sin(replication + i));
    const start = performance.now();
    const packed = pack(values);
    statistics.add(replication, values);
    const text = JSON.stringify(newFigures([{ number: replication, packed, errors: null }]));
    const sent = performance.now();
    figures = live.add(figures, newFiguresSchema.parse(JSON.parse(text)));
    const readings = readingsOf(figures, { time: "min", length: "m" }, 0.95);
    // The rows in sight, and as many again.
    for (const reading of readings.slice(0, 80)) void reading.interval.mean;
    const shown = performance.now();
    if (replication > UPDATES / 4) {
      server.push(sent - start);
      page.push(shown - sent);
    }
  }
  return { server: middle(server), page: middle(page) };
}
