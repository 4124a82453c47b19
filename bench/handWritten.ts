import { openStreams } from "../core/src/random/streams.ts";

/**
 * M/M/1 first come first served, written by hand as tightly as the language
 * allows: the measure of what the kernel's generality costs. Same generator, same
 * streams; it records the line's and the server's time averages, mean and longest
 * wait and time in system, and nothing else.
 */
export function handWrittenMm1(seed: number, replication: number, meanBetween: number, meanService: number, length: number) {
  const streams = openStreams(seed, replication);
  const between = streams.uniform(1);
  const service = streams.uniform(2);
  let arrivalTimes = new Float64Array(1024);
  let head = 0;
  let waiting = 0;
  let busy = 0;
  let inService = 0;
  let now = 0;
  let lineArea = 0;
  let busyArea = 0;
  let last = 0;
  let waits = 0;
  let waitSum = 0;
  let waitMax = 0;
  let departed = 0;
  let timeSum = 0;
  let timeMax = 0;
  let events = 0;
  let nextArrival = -meanBetween * Math.log(1 - between());
  let nextDeparture = Infinity;
  while (true) {
    const arrives = nextArrival < nextDeparture;
    now = arrives ? nextArrival : nextDeparture;
    if (now > length) break;
    events += 1;
    lineArea += waiting * (now - last);
    busyArea += busy * (now - last);
    last = now;
    if (arrives) {
      nextArrival = now - meanBetween * Math.log(1 - between());
      if (busy === 0) {
        busy = 1;
        inService = now;
        waits += 1;
        nextDeparture = now - meanService * Math.log(1 - service());
      } else {
        if (waiting === arrivalTimes.length) {
          const grown = new Float64Array(arrivalTimes.length * 2);
          for (let i = 0; i < waiting; i++) grown[i] = arrivalTimes[(head + i) % arrivalTimes.length];
          arrivalTimes = grown;
          head = 0;
        }
        arrivalTimes[(head + waiting++) & (arrivalTimes.length - 1)] = now;
      }
    } else {
      const time = now - inService;
      departed += 1;
      timeSum += time;
      if (time > timeMax) timeMax = time;
      if (waiting === 0) {
        busy = 0;
        nextDeparture = Infinity;
      } else {
        inService = arrivalTimes[head];
        head = (head + 1) & (arrivalTimes.length - 1);
        waiting -= 1;
        const wait = now - inService;
        waits += 1;
        waitSum += wait;
        if (wait > waitMax) waitMax = wait;
        nextDeparture = now - meanService * Math.log(1 - service());
      }
    }
  }
  return { events, utilization: busyArea / length, line: lineArea / length, wait: waitSum / waits, waitMax, timeInSystem: timeSum / departed, timeMax };
}
