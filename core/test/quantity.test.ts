import {
  dimensionName,
  dimensionSymbol,
  displayUnit,
  divideDimensions,
  findUnit,
  formatClock,
  formatDuration,
  formatNumber,
  formatQuantity,
  LENGTH,
  MONEY,
  multiplyDimensions,
  NUMBER,
  RATE,
  SPEED,
  TIME,
  unitSymbols,
} from "../src/index.ts";
import { cos, exp, ln, log10, pow, sin, sinh, tan } from "../src/numeric/elementary.ts";

const minutes = { time: "min", length: "ft" } as const;

test.each([
  [0, 4, "0"],
  [1234.5678, 4, "1235"],
  [0.0012345, 3, "0.00123"],
  [4.6, 4, "4.6"],
  [0.4838, 2, "0.48"],
  [123456, 4, "123\u2009456"],
  [-0.33, 3, "−0.33"],
  [1e-9, 3, "1.00e-9"],
  [2.5e15, 2, "2.5e+15"],
  [NaN, 4, "–"],
  [Infinity, 4, "–"],
  [99.996, 4, "100"],
])("%d with %d digits reads %s", (value, digits, text) => expect(formatNumber(value, digits)).toBe(text));

test("quantities are shown in the study's units", () => {
  expect(formatQuantity(90, TIME, minutes)).toBe("1.5 min");
  expect(formatQuantity(3.048, LENGTH, minutes)).toBe("10 ft");
  expect(formatQuantity(0.01, RATE, minutes)).toBe("36 1/h");
  expect(formatQuantity(0.3048, SPEED, minutes)).toBe("1 ft/s");
  expect(formatQuantity(7, NUMBER, minutes)).toBe("7");
  expect(displayUnit(divideDimensions(MONEY, TIME), minutes)).toEqual({ symbol: "money/s", factor: 1 });
});

test.each([
  [42, "42 s"],
  [90, "1.5 min"],
  [8100, "2.25 h"],
  [172800, "2 d"],
  [0, "0 s"],
])("%d s reads best as %s", (seconds, text) => expect(formatDuration(seconds)).toBe(text));

test("clock times", () => {
  expect(formatClock(41 * 60 + 7 + 8 * 3600)).toBe("8:41:07");
  expect(formatClock(86400)).toBe("day 2, 0:00:00");
});

test("dimensions have names and symbols", () => {
  expect(dimensionName(SPEED)).toBe("a speed");
  expect(dimensionSymbol(multiplyDimensions(LENGTH, LENGTH))).toBe("m^2");
  expect(dimensionSymbol(RATE)).toBe("1/s");
  expect(dimensionSymbol(NUMBER)).toBe("1");
  expect(dimensionName([1, 1, 0, 0])).toBe("a quantity in s*m");
  expect(unitSymbols(TIME)).toEqual(["ms", "s", "min", "h", "d", "wk"]);
  expect(findUnit("Min")).toBeUndefined();
});

test("elementary functions agree with the language's own to the last bits", () => {
  const pairs: [(x: number) => number, (x: number) => number][] = [
    [ln, Math.log],
    [exp, Math.exp],
    [sin, Math.sin],
    [cos, Math.cos],
    [tan, Math.tan],
    [log10, Math.log10],
    [sinh, Math.sinh],
    [(x) => pow(x, 1.7), (x) => x ** 1.7],
  ];
  for (const [own, native] of pairs)
    for (let x = 0.01; x < 20; x += 0.37) expect(Math.abs(own(x) / native(x) - 1)).toBeLessThan(1e-13);
});
