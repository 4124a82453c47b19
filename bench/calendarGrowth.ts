import { Calendar } from "../core/src/kernel/calendar.ts";
import { EventClass } from "../core/src/kernel/kernel.ts";

const EVENTS = 1_000_000;
const ROUNDS = 5;

/**
 * Nanoseconds an event of the hold model (Vaucher and Duval 1975): take the first event and schedule its token anew,
 * `pending` of them at any time.
 */
function holdTime(pending: number): number {
  const calendar = new Calendar();
  // A small generator of its own: drawing must cost next to nothing beside the calendar.
  let state = 12345;
  const draw = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return (state + 1) / 4294967296;
  };
  const schedule = (token: number, time: number) => {
    calendar.due[0] = time;
    calendar.schedule(token, EventClass.activityEnd);
  };
  for (let token = 0; token < pending; token++) schedule(token, draw());
  const hold = (events: number) => {
    for (let i = 0; i < events; i++) {
      const now = calendar.nextTime;
      schedule(calendar.pop(), now + draw());
    }
  };
  hold(EVENTS / 5);
  let best = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const start = performance.now();
    hold(EVENTS);
    best = Math.min(best, performance.now() - start);
  }
  return (best * 1e6) / EVENTS;
}

/** Cost of an event at 1,000,000 pending over its cost at 100 pending. */
export function calendarGrowth(): number {
  const few = holdTime(100);
  return holdTime(1_000_000) / few;
}
