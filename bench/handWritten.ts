import { ln } from "../core/src/numeric/elementary.ts";
import { openStreams } from "../core/src/random/streams.ts";
import { Level } from "../core/src/statistics/level.ts";
import { Tally } from "../core/src/statistics/tally.ts";

/**
 * M/M/1 first come first served, written by hand for this one model: two event
 * times in place of a calendar, a ring of arrival times in place of entities. It
 * shows what the kernel's generality costs, so it answers the same questions:
 * same generator and streams, and the same levels and tallies of line, server,
 * wait, system and time in system.
 */
export function handWrittenMm1(
  seed: number,
  replication: number,
  meanBetween: number,
  meanService: number,
  length: number,
) {
  const streams = openStreams(seed, replication);
  const between = streams.stream(1).uniform();
  const service = streams.stream(2).uniform();
  const clock = new Float64Array(1);
  const line = new Level(clock);
  const busy = new Level(clock);
  const inSystem = new Level(clock);
  const wait = new Tally();
  const timeInSystem = new Tally();
  let arrivalTimes = new Float64Array(1024);
  let head = 0;
  let waiting = 0;
  let inService = 0;
  let created = 0;
  let departed = 0;
  let events = 0;
  let nextArrival = -meanBetween * ln(1 - between());
  let nextDeparture = Infinity;
  for (;;) {
    const arrives = nextArrival < nextDeparture;
    const now = arrives ? nextArrival : nextDeparture;
    if (now > length) break;
    clock[0] = now;
    events += 1;
    if (arrives) {
      created += 1;
      inSystem.add(1);
      nextArrival = now - meanBetween * ln(1 - between());
      if (nextDeparture === Infinity) {
        inService = now;
        busy.add(1);
        wait.addZero();
        nextDeparture = now - meanService * ln(1 - service());
      } else {
        if (waiting === arrivalTimes.length) {
          const grown = new Float64Array(arrivalTimes.length * 2);
          for (let i = 0; i < waiting; i++) grown[i] = arrivalTimes[(head + i) & (arrivalTimes.length - 1)];
          arrivalTimes = grown;
          head = 0;
        }
        arrivalTimes[(head + waiting++) & (arrivalTimes.length - 1)] = now;
        line.add(1);
      }
    } else {
      departed += 1;
      busy.add(-1);
      inSystem.add(-1);
      timeInSystem.add(now - inService);
      if (waiting === 0) nextDeparture = Infinity;
      else {
        inService = arrivalTimes[head];
        head = (head + 1) & (arrivalTimes.length - 1);
        waiting -= 1;
        line.add(-1);
        wait.add(now - inService);
        busy.add(1);
        nextDeparture = now - meanService * ln(1 - service());
      }
    }
  }
  clock[0] = length;
  return {
    events,
    created,
    departed,
    utilization: busy.integral / length,
    line: line.integral / length,
    wait: wait.mean,
    timeInSystem: timeInSystem.mean,
    inSystem: inSystem.integral / length,
  };
}
