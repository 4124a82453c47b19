import fc from "fast-check";
import {
  checkExpression,
  makeScope,
  type Meaning,
  numberOf,
  parseExpression,
  PLAIN,
  type Source,
  TEXT,
  type ValueType,
  YES_NO,
} from "../src/expression/index.ts";
import { LENGTH, NUMBER, SPEED, TIME } from "../src/quantity/index.ts";

const texts: string[] = [];
const intern = (text: string) => {
  if (!texts.includes(text)) texts.push(text);
  return texts.indexOf(text);
};
/** Anything can be read: here, values that stay as they are. */
const source = (value: number): Source => ({ reader: () => () => value });
const names = new Map<string, Meaning>([
  [
    "clock",
    {
      type: numberOf(TIME),
      source: source(90),
      properties: new Map([
        ["timeOfDay", { type: numberOf(TIME), source: source(3600) }],
        ["day", { type: PLAIN, source: source(2) }],
      ]),
    },
  ],
  [
    "Ticket line",
    {
      type: { kind: "element" },
      properties: new Map([["length", { type: PLAIN, source: source(7) }]]),
    },
  ],
  ["Visitor", { type: { kind: "entityType" }, constant: 1 }],
  [
    "entity",
    {
      type: { kind: "entity" },
      source: source(1),
      properties: new Map<string, Meaning>([
        ["type", { type: { kind: "entityType" }, source: source(1) }],
        ["size", { type: numberOf(LENGTH), source: source(4) }],
        ["port", { type: TEXT, constant: intern("Larkspur") }],
      ]),
    },
  ],
]);
const scope = makeScope(names, intern);
const randomBy = (uniform: () => number) => ({
  uniform: () => uniform,
  exponential: (mean: number) => () => -mean * Math.log(1 - uniform()),
});
const environment = {
  running: {
    part: () => {
      throw new Error("Nothing runs here.");
    },
  },
  random: () => randomBy(() => 0.25),
  fault: ({ message }: { readonly message: string }) => {
    throw new Error(message);
  },
};

function value(source: string, type?: ValueType): number {
  const result = checkExpression(source, scope, type);
  if (!result.ok) throw new Error(`${source}: ${result.problems.map((p) => p.message).join(" ")}`);
  return result.checked.compile(environment)(0);
}
function problem(source: string, type?: ValueType) {
  const result = checkExpression(source, scope, type);
  if (result.ok) throw new Error(`${source} was accepted`);
  return result.problems[0];
}

describe("what expressions mean", () => {
  test.each([
    ["1 + 2 * 3", 7],
    ["(1 + 2) * 3", 9],
    ["2 ^ 3 ^ 2", 512],
    ["-2 ^ 2", -4],
    ["7 mod 3", 1],
    ["-7 mod 3", 2],
    ["1 - 2 - 3", -4],
    ["90 s", 90],
    ["1.5 min", 90],
    ["12h", 43200],
    ["12/h", 12 / 3600],
    ["3 ft", 0.9144],
    ["1.3 m/s", 1.3],
    ["5 km/h", 5000 / 3600],
    ["20 %", 0.2],
    ["2 m^2", 2],
    ["3 min + 2 s", 182],
    ["6 m / 2 s", 3],
    ["10 m / (2 m/s)", 5],
    ["1 / (12/h)", 300],
    ["if(clock > 1 min, 2 s, 3 s)", 2],
    ["not (1 < 2)", 0],
    ["1 < 2 and 2 < 3 or no", 1],
    ["yes = no", 0],
    ["min(3, 1, 2)", 1],
    ["round(7 min, 5 min)", 300],
    ["sqrt(9 m^2)", 3],
    ["abs(-2 s)", 2],
    ["[3, 5, 8][2]", 5],
    ["TicketLine.length", 7],
    ["`Ticket line`.length + 1", 8],
    ["ticketline.LENGTH", 7],
    ["entity.type is Visitor", 1],
    ["entity.size / 2", 2],
    ["clock.timeOfDay", 3600],
    ["clock.day", 2],
    ['entity.port = "Larkspur"', 1],
    ['entity.port <> "Mainland"', 1],
    ["uniform(2 min, 6 min)", 180],
    ["exponential(10 s)", -10 * Math.log(0.75)],
    ["discrete([1, 2, 3], [20 %, 60 %, 20 %])", 2],
    ["empirical([1 min, 3 min, 2 min])", 90],
  ])("%s is %d", (source, expected) => {
    expect(value(source)).toBeCloseTo(expected, 10);
  });

  test("a draw uses one uniform, whatever its parameters", () => {
    let draws = 0;
    const counting = { ...environment, random: () => randomBy(() => (draws++, 0.5)) };
    for (const source of [
      "triangular(1, 2, 3)",
      "normal(clock, 2 s)",
      "gamma(2, 3 s)",
      "poisson(700)",
      "beta(2, 3, 0 s, 9 s)",
      "johnsonSB(0, 1, 1 s, 2 s)",
    ]) {
      draws = 0;
      const result = checkExpression(source, scope);
      if (!result.ok) throw new Error(source);
      result.checked.compile(counting)(0);
      expect(`${source} ${draws}`).toBe(`${source} 1`);
    }
  });

  test("parameters that change at run time and leave the range give no number, and so stop the run", () => {
    expect(value("exponential(clock - 2 min)")).toBeNaN();
  });
});

describe("what is refused, where, and with what hint", () => {
  test.each([
    ["3 min + 2 ft", "A time and a length cannot be added.", undefined],
    ["clock > 5", "A time and a plain number cannot be compared.", "Give 5 a unit."],
    [
      "triangular(1 min, 2, 3 min)",
      "The most likely must be a time like the values before it; this is a plain number.",
      "Give it a unit.",
    ],
    ["triangular(3 s, 2 s, 1 s)", "In triangular, lowest, most likely and highest must be in rising order", undefined],
    ["exponental(3 s)", 'There is no function "exponental".', "Did you mean exponential?"],
    ["TicketLine.lenth", 'There is no ".lenth" here.', "There is .length."],
    ["TiketLine.length", 'Nothing here is called "TiketLine".', "Did you mean Ticket line?"],
    ["TicketLine", "This is an element, not a value.", "Ask for one of its properties: .length."],
    ["5 parsec", '"parsec" is not a unit.', "Units are"],
    ["(1 + 2", '")" is missing at the end.', 'Add ")".'],
    ["1 +", "A value is missing at the end.", undefined],
    ["discrete([1, 2], [1])", "There are 2 values but 1 weights.", undefined],
    ['"never closed', 'This " is never closed.', undefined],
    ["if(1, 2, 3)", "A condition is wanted here; this is a plain number.", undefined],
    ["1 / 0", "This has no finite value.", undefined],
  ])("%s", (source, message, hint) => {
    const found = problem(source);
    expect(found.message).toContain(message);
    if (hint) expect(found.hint).toContain(hint);
    expect(found.start).toBeGreaterThanOrEqual(0);
    expect(found.end).toBeGreaterThan(found.start);
  });

  test("a mismatch points at the characters where it stands", () => {
    const { start, end } = problem("2 s + (3 min + 2 ft)");
    expect("2 s + (3 min + 2 ft)".slice(start, end)).toBe("3 min + 2 ft");
  });

  test("a rate where a time is wanted offers the time; a bare number offers units", () => {
    expect(problem("12/h", numberOf(TIME)).hint).toBe(
      "Write the time from one to the next: exponential(5 min) for random spacing, 5 min for even spacing.",
    );
    expect(problem("90", numberOf(TIME)).hint).toBe("Add a unit: 90 s, min or h.");
    expect(problem("3", numberOf(SPEED)).hint).toContain("m/s");
    expect(problem("2 s", YES_NO).message).toContain("yes or no is wanted");
  });

  test("nothing outside the model can be reached", () => {
    for (const source of [
      "constructor",
      "entity.constructor",
      "clock.__proto__",
      "toString()",
      "entity.type.constructor",
      "[1].length",
    ])
      expect(problem(source).message).toBeTruthy();
  });

  test("depth and length are bounded", () => {
    expect(problem("(".repeat(500) + "1" + ")".repeat(500)).message).toContain("nested more than");
    expect(problem("1+".repeat(3000) + "1").message).toContain("at most");
  });

  test("no input makes the parser or the checker throw", () => {
    const words = fc.constantFrom(
      "1",
      "2.5",
      "s",
      "min",
      "%",
      "m/s",
      "+",
      "-",
      "*",
      "/",
      "^",
      "(",
      ")",
      "[",
      "]",
      ",",
      ".",
      "if",
      "and",
      "not",
      "is",
      "mod",
      "clock",
      "entity",
      "uniform",
      "discrete",
      '"a"',
      "`b`",
      "=",
      "<",
      "Ticket line",
      "yes",
      " ",
      "é",
      "\n",
      "'",
      "exponential(",
    );
    fc.assert(
      fc.property(
        fc.array(words, { maxLength: 30 }),
        (parts) => void checkExpression(parts.join(" "), scope, numberOf(NUMBER)),
      ),
      { numRuns: 3000, seed: 1 },
    );
    fc.assert(
      fc.property(fc.string({ maxLength: 60, unit: "binary" }), (text) => void parseExpression(text)),
      { numRuns: 3000, seed: 2 },
    );
  });
});
