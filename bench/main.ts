import { calendarGrowth } from "./calendarGrowth.ts";
import { experimentOverhead, experimentSpeedup } from "./experiments.ts";
import { conveyorEventsPerSecond } from "./conveyors.ts";
import { benchFleet } from "./fleet.ts";
import { routesPreparedMs } from "./routes.ts";
import { slowestDraw } from "./draws.ts";
import { familyCompileMs } from "./families.ts";
import { fitSeconds } from "./fitting.ts";
import { importSeconds } from "./importing.ts";
import { benchLine50 } from "./line50.ts";
import { liveDeltas } from "./liveDeltas.ts";
import { benchMm1 } from "./mm1Ratio.ts";
import { memoryGrowth } from "./memory.ts";
import { procedureShare, ruleCostUnused } from "./logic.ts";
import { tableDrivenShare } from "./tableDriven.ts";
import { threadsSpeedup } from "./threads.ts";

/**
 * Prints one `name: value` a line. Ratios compare things timed in turn in this one run; only they mean something on
 * another machine.
 */
const say = (name: string, value: number, digits = 3): void => console.log(`${name}: ${value.toFixed(digits)}`);

async function main(): Promise<void> {
  const { ratio, eventsPerSecond } = await benchMm1();
  say("mm1-ratio", ratio);
  say("mm1-events-per-second", eventsPerSecond, 0);
  say("threads-2-speedup", await threadsSpeedup());
  say("memory-growth", memoryGrowth());
  const line = benchLine50();
  say("line-50-ratio", line.ratio, 2);
  say("line-50-events-per-second", line.eventsPerSecond, 0);
  say("calendar-growth", calendarGrowth());
  say("table-driven-share", tableDrivenShare());
  say("procedure-share", procedureShare());
  say("rule-cost-unused", ruleCostUnused());
  say("family-500-compile-ms", familyCompileMs(), 0);
  say("fit-100k-s", fitSeconds(), 2);
  say("import-100k-s", await importSeconds(), 1);
  say("experiment-speedup", await experimentSpeedup(), 2);
  say("experiment-overhead", await experimentOverhead());
  const fleet = benchFleet();
  say("fleet-ratio", fleet.ratio, 2);
  say("fleet-events-per-second", fleet.eventsPerSecond, 0);
  say("conveyor-1000-events-per-second", conveyorEventsPerSecond(), 0);
  say("route-prepare-5000-ms", routesPreparedMs(), 0);
  const { server, page } = liveDeltas();
  say("live-deltas-ms", Math.max(server, page), 2);
  say("live-deltas-server-ms", server, 2);
  say("live-deltas-page-ms", page, 2);
  const { microseconds, name } = slowestDraw();
  say("slowest-draw-microseconds", microseconds);
  console.log(`slowest-draw: ${name}`);
}

void main();
