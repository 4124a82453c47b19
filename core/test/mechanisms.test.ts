import fc from "fast-check";
import { calendarSchema, daysOpen, readCalendar } from "../src/index.ts";
import { Kernel, SUSPEND } from "../src/kernel/kernel.ts";
import { NO_TYPE } from "../src/kernel/pool.ts";
import { NONE_LEFT, RequestList, type RequestLine } from "../src/kernel/requestList.ts";
import { Work } from "../src/kernel/work.ts";

describe("lines of requests", () => {
  test("are in order of priority, then of asking, whoever joins or leaves, in several lines at once", () => {
    const act = fc.oneof(
      {
        weight: 3,
        arbitrary: fc.record({
          do: fc.constant("join" as const),
          priority: fc.integer({ min: 0, max: 3 }),
          lines: fc.constantFrom<number[]>([0], [1], [0, 1], [1, 2]),
        }),
      },
      { weight: 2, arbitrary: fc.record({ do: fc.constant("leave" as const), pick: fc.nat() }) },
    );
    fc.assert(
      fc.property(fc.array(act, { maxLength: 120 }), (acts) => {
        const list = new RequestList();
        const lines: RequestLine[] = [0, 1, 2].map(() => ({ head: NONE_LEFT, tail: NONE_LEFT }));
        let waiting: { token: number; priority: number; order: number; lines: number[] }[] = [];
        // Tokens are used again as soon as they have left.
        const unused = Array.from({ length: 120 }, (_, i) => i);
        let order = 0;
        for (const a of acts) {
          if (a.do === "join") {
            const token = unused.shift()!;
            order += 1;
            for (const line of a.lines) list.join(lines[line], token, a.priority, order);
            waiting.push({ token, priority: a.priority, order, lines: a.lines });
          } else if (waiting.length > 0) {
            const { token } = waiting[a.pick % waiting.length];
            for (let node = list.firstOf(token); node !== NONE_LEFT; node = list.firstOf(token)) list.leave(node);
            waiting = waiting.filter((w) => w.token !== token);
            unused.unshift(token);
          }
          lines.forEach((line, i) => {
            const found: number[] = [];
            for (let node = line.head; node !== NONE_LEFT; node = list.after(node)) found.push(list.tokenOf(node));
            const expected = waiting
              .filter((w) => w.lines.includes(i))
              .sort((x, y) => y.priority - x.priority || x.order - y.order);
            expect(found).toEqual(expected.map((w) => w.token));
          });
        }
      }),
      { numRuns: 300, seed: 12 },
    );
  });
});

describe("work that stands still and goes on", () => {
  test("takes its length and the time in which it was stopped for any reason, however the reasons overlap", () => {
    const stop = fc.record({ from: fc.integer({ min: 0, max: 60 }), lasts: fc.integer({ min: 0, max: 40 }) });
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 50 }), fc.array(stop, { maxLength: 5 }), (length, stops) => {
        const kernel = new Kernel(0, () => ({ name: "here" }));
        kernel.reset({ entities: 10, events: 1e6, stepsAtAnInstant: 1e5 });
        const work = new Work(kernel);
        work.reset();
        let ended = -1;
        const end = kernel.emit((token) => {
          work.end(token);
          ended = kernel.now;
          return SUSPEND;
        });
        const token = kernel.pool.take(NO_TYPE, end, kernel.clock);
        for (const { from, lasts } of stops) {
          const begin = kernel.emit(() => {
            if (ended < 0) work.stop(token);
            return SUSPEND;
          });
          const over = kernel.emit(() => {
            if (ended < 0) work.go(token);
            return SUSPEND;
          });
          kernel.startProcess(begin, from, 0);
          kernel.startProcess(over, from + lasts, 0);
        }
        work.begin(token, length, "here", "time");
        kernel.run(1000, Infinity);
        // Second by second: one is worked off wherever no stop covers it.
        let left = length;
        let expected = 0;
        for (; left > 0; expected++)
          if (!stops.some((s) => s.from <= expected && expected < s.from + s.lasts)) left -= 1;
        expect(ended).toBe(expected);
      }),
      { numRuns: 1000, seed: 13 },
    );
  });

  test("starts over with its whole length, where it stands still", () => {
    const kernel = new Kernel(0, () => ({ name: "here" }));
    kernel.reset({ entities: 10, events: 1e6, stepsAtAnInstant: 1e5 });
    const work = new Work(kernel);
    work.reset();
    let ended = -1;
    const token = kernel.pool.take(
      NO_TYPE,
      kernel.emit(() => ((ended = kernel.now), SUSPEND)),
      kernel.clock,
    );
    const at = (time: number, act: () => void) =>
      kernel.startProcess(
        kernel.emit(() => (act(), SUSPEND)),
        time,
        0,
      );
    at(7, () => work.stop(token));
    at(8, () => work.startOver(token));
    at(12, () => work.go(token));
    // While it runs there is nothing to start over.
    at(15, () => work.startOver(token));
    work.begin(token, 10, "here", "time");
    kernel.run(100, Infinity);
    expect(ended).toBe(22);
  });
});

describe("timetables", () => {
  const hour = fc.integer({ min: 0, max: 23 });
  const rows = fc.array(
    fc.record({
      days: fc.uniqueArray(fc.integer({ min: 0, max: 6 }), { minLength: 1, maxLength: 7 }),
      from: hour,
      length: fc.integer({ min: 1, max: 12 }),
      value: fc.integer({ min: 0, max: 4 }),
    }),
    { minLength: 1, maxLength: 3 },
  );
  const two = (n: number) => `${String(n).padStart(2, "0")}:00`;
  /** Those that can be read: rows do not overlap. */
  const timetables = rows
    .map(
      (list) =>
        readCalendar(
          calendarSchema.parse({
            id: "c",
            name: "C",
            rows: list.map(({ days, from, length, value }) => ({
              days,
              from: two(from),
              to: two((from + length) % 24),
              value: String(value),
            })),
          }),
          "2026-06-03T05:00",
        ).timetable,
    )
    .filter((t) => t !== undefined);
  const time = fc.integer({ min: 0, max: 21 * 24 }).map((h) => h * 3600 + 1800);

  test("changes come in order, at each the value is another, and between them it is one; a week later all is the same", () => {
    fc.assert(
      fc.property(timetables, time, (table, from) => {
        const next = table.nextChange(from);
        expect(table.at(from + 7 * 86_400)).toBe(table.at(from));
        if (next === Infinity) return;
        expect(next).toBeGreaterThan(from);
        expect(table.at(next)).not.toBe(table.at(from));
        for (let t = from; t < next; t += 1800) expect(table.at(t)).toBe(table.at(from));
      }),
      { numRuns: 300, seed: 14 },
    );
  });

  test("integrals add up, are those of the pieces, and are found again by their amount", () => {
    fc.assert(
      fc.property(timetables, time, time, time, (table, a, b, c) => {
        const [from, middle, until] = [a, b, c].sort((x, y) => x - y);
        const whole = table.integral(from, until);
        expect(table.integral(from, middle) + table.integral(middle, until)).toBeCloseTo(whole, 6);
        expect(table.pieces(from, until).reduce((sum, p) => sum + p.value * (p.until - p.from), 0)).toBeCloseTo(
          whole,
          6,
        );
        if (whole > 0) expect(table.integral(from, table.whenIntegral(from, whole / 2))).toBeCloseTo(whole / 2, 6);
      }),
      { numRuns: 300, seed: 15 },
    );
  });

  test("with nights skipped, running time and the clock on the wall are each other's inverse, and timetables agree", () => {
    fc.assert(
      fc.property(timetables, fc.integer({ min: 0, max: 20 * 8 * 60 }), (table, minutes) => {
        const days = daysOpen(5 * 3600, 4 * 3600, 12 * 3600);
        const t = minutes * 60;
        const sinceStart = days.wall(t) - 5 * 3600;
        expect(days.runningTime(sinceStart)).toBeCloseTo(t, 6);
        const ofDay = days.wall(t) % 86_400;
        expect(ofDay >= 4 * 3600 && ofDay < 12 * 3600).toBe(true);
        const followed = days.follow(table);
        expect(followed.at(t)).toBe(table.at(sinceStart));
        const next = followed.nextChange(t);
        if (next < Infinity) expect(followed.at(next)).not.toBe(followed.at(t));
      }),
      { numRuns: 500, seed: 16 },
    );
  });
});
