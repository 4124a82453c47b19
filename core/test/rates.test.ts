import { poissonInterval, ratesOf, readStamp } from "../src/fitting/index.ts";
import { openStreams } from "../src/random/streams.ts";

const HOUR = 3600;
const stamp = (text: string) => readStamp(text)!;

test("an instant is a date and time of day that exist", () => {
  expect(stamp("1970-01-02 00:00")).toBe(86_400);
  expect(stamp("2026-06-24T6:30:15") - stamp("2026-06-24")).toBe(6.5 * HOUR + 15);
  for (const text of ["2026-02-30 08:00", "2026-06-24 24:00", "24.6.2026", "8:00", ""])
    expect(readStamp(text)).toBeUndefined();
});

test("exact intervals of counts are those of the tables (Garwood 1936; Pearson and Hartley 1966, table 40)", () => {
  const known = [
    [0, 0, 3.689],
    [1, 0.0253, 5.572],
    [5, 1.623, 11.668],
    [10, 4.795, 18.39],
    [30, 20.241, 42.827],
  ];
  for (const [count, low, high] of known) {
    const [a, b] = poissonInterval(count, 0.95);
    expect(a).toBeCloseTo(low, 2);
    expect(b).toBeCloseTo(high, 2);
  }
});

test("counts are taken over the days looked at, those without any among them, days of the week apart or alike", () => {
  // Monday 1 June to Tuesday 9 June 2026: two Mondays, two Tuesdays, one of each other day.
  const stamps = [
    "2026-06-01 08:10",
    "2026-06-01 08:50",
    "2026-06-08 08:59:59",
    "2026-06-09 09:00",
    "2026-06-06 23:59",
  ];
  const found = (alike: "apart" | "work" | "all") =>
    ratesOf(stamps.map(stamp), { width: HOUR, alike, level: 0.95 })
      .intervals.filter(({ count }) => count > 0)
      .map(({ days, from, count, observed, rate }) => [days.join(""), from / HOUR, count, observed, rate * HOUR]);
  expect(found("apart")).toEqual([
    ["0", 8, 3, 2, 1.5],
    ["1", 9, 1, 2, 0.5],
    ["5", 23, 1, 1, 1],
  ]);
  expect(found("work")).toEqual([
    ["01234", 8, 3, 7, 3 / 7],
    ["01234", 9, 1, 7, 1 / 7],
    ["56", 23, 1, 2, 0.5],
  ]);
  const all = ratesOf(stamps.map(stamp), { width: HOUR, alike: "all", level: 0.95 });
  expect(all.intervals).toHaveLength(24);
  expect(all.lastDay - all.firstDay).toBe(8);
  expect(all.intervals[3]).toMatchObject({ count: 0, rate: 0, low: 0 });
  expect(all.intervals[3].high * 9 * HOUR).toBeCloseTo(3.689, 3);
  expect(() => ratesOf([], { width: HOUR, alike: "all", level: 0.95 })).toThrow("There is no instant.");
});

test("of a Poisson process the intervals hold the rate as often as they say, and its counts vary as they should", () => {
  const level = 0.95;
  const rateAt = (hour: number) => (hour < 12 ? 3 : 8) / HOUR;
  let [held, asked, unlikely] = [0, 0, 0];
  const streams = openStreams(11, 1);
  const gap = streams.stream(1).exponential(1);
  for (let sample = 0; sample < 200; sample++) {
    streams.begin(11, sample + 1);
    const stamps: number[] = [];
    // By inversion of the summed rate, which goes up by 3 and then by 8 an hour.
    for (let day = 0; day < 14; day++)
      for (let hour = 0; hour < 24; hour++)
        for (let t = gap() / rateAt(hour); t < HOUR; t += gap() / rateAt(hour))
          stamps.push(20_000 * 86_400 + day * 86_400 + hour * HOUR + t);
    const { intervals, chance } = ratesOf(stamps, { width: HOUR, alike: "apart", level });
    for (const { from, low, high } of intervals) {
      asked += 1;
      if (low <= rateAt(from / HOUR) && rateAt(from / HOUR) <= high) held += 1;
    }
    if (chance < 0.05) unlikely += 1;
  }
  // Exact intervals hold at least as often as they say, for counts are whole; of so many, by far not always.
  expect(held / asked).toBeGreaterThan(0.95);
  expect(held / asked).toBeLessThan(0.985);
  // Of 200, 5 % are 10; 3.3 standard deviations about it.
  expect(unlikely).toBeLessThanOrEqual(20);
});

test("arrivals that come in bunches vary more than a Poisson process, and that is told", () => {
  const stamps = Array.from({ length: 28 }, (_, day) =>
    Array.from({ length: day % 2 === 0 ? 20 : 2 }, (_, i) => 20_000 * 86_400 + day * 86_400 + 8 * HOUR + i * 60),
  ).flat();
  const { dispersion, chance } = ratesOf(stamps, { width: HOUR, alike: "all", level: 0.95 });
  // Counts 20 and 2 by turns: mean 11, squares 81 each.
  expect(dispersion).toBeCloseTo((28 * 81) / 11 / 27, 12);
  expect(chance).toBeLessThan(1e-6);
});
