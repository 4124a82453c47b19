import { compile, type Problem, readStudyText, run } from "../src/index.ts";
import { chain, program, study } from "./build.ts";

type Loose = Record<string, unknown>;
const arrive = { id: "in", kind: "arrivals", between: "10 s" };
const desk = { id: "s", kind: "station", time: "5 s" };
const out = { id: "out", kind: "departures" };
const problems = (elements: Loose[], links: Loose[], more: Loose = {}): readonly Problem[] =>
  compile(study({ elements, links, ...more })).problems;
const only = (list: readonly Problem[], code: string): Problem => {
  const found = list.filter((p) => p.code === code);
  expect({ code, all: list.map((p) => `${p.code}: ${p.message}`), found: found.length }).toMatchObject({ found: 1 });
  return found[0];
};

describe("each kind of bad model gives a named problem that leads to its place", () => {
  test.each<[string, Loose[], Loose[], string, Partial<Problem>]>([
    [
      "a missing link",
      [arrive, desk, out],
      chain("in", "s"),
      "no-way-out",
      { id: "s", path: ["designs", 0, "elements", 1] },
    ],
    [
      "an unreachable station",
      [arrive, desk, { ...desk, id: "far" }, out],
      [...chain("in", "s", "out"), { from: "far", to: "out" }],
      "unreachable",
      { id: "far" },
    ],
    [
      "a zero service time loop",
      [arrive, { ...desk, time: "0 s" }, { ...desk, id: "r", time: "0 min" }],
      [
        { from: "in", to: "s" },
        { from: "s", to: "r" },
        { from: "r", to: "s" },
      ],
      "timeless-loop",
      { field: "time" },
    ],
    [
      "shares that do not sum to 1",
      [arrive, desk, { ...desk, id: "r" }, out],
      [
        { from: "in", to: "s", share: "50 %" },
        { from: "in", to: "r", share: "0.4" },
        { from: "s", to: "out" },
        { from: "r", to: "out" },
      ],
      "shares-sum",
      { id: "in", field: "wayOut" },
    ],
    [
      "a unit mismatch",
      [arrive, { ...desk, time: "3 m" }, out],
      chain("in", "s", "out"),
      "unit-mismatch",
      { id: "s", field: "time", start: 0, end: 3, path: ["designs", 0, "elements", 1, "time"] },
    ],
    [
      "a number without a unit",
      [{ ...arrive, between: "12" }, desk, out],
      chain("in", "s", "out"),
      "unit-mismatch",
      { id: "in", field: "between" },
    ],
    [
      "a negative fixed time",
      [arrive, { ...desk, time: "-3 s" }, out],
      chain("in", "s", "out"),
      "negative-value",
      { id: "s", field: "time" },
    ],
    [
      "a link to nowhere",
      [arrive, desk, out],
      [...chain("in", "s", "out"), { from: "s", to: "ghost" }],
      "missing-element",
      { id: "l2", field: "to" },
    ],
    [
      "a link into arrivals",
      [arrive, desk, out],
      [...chain("in", "s", "out"), { from: "s", to: "in" }],
      "no-way-in",
      { id: "l2" },
    ],
    [
      "a link out of departures",
      [arrive, desk, out],
      [...chain("in", "s", "out"), { from: "out", to: "s" }],
      "no-way-out-of-kind",
      { id: "l2" },
    ],
    [
      "two names that read alike",
      [arrive, { ...desk, name: "Ticket desk" }, { ...desk, id: "r", name: "ticketDesk" }, out],
      [...chain("in", "s", "out"), ...chain("in", "r", "out")],
      "duplicate-name",
      { id: "r" },
    ],
    ["an id used twice", [arrive, desk, { ...out, id: "s" }], chain("in", "s"), "duplicate-id", { id: "s" }],
    [
      "an unknown entity type",
      [{ ...arrive, entityType: "nobody" }, desk, out],
      chain("in", "s", "out"),
      "missing-entity-type",
      { id: "in", field: "entityType" },
    ],
    [
      "a capacity that is no count",
      [arrive, { ...desk, capacity: "1.5" }, out],
      chain("in", "s", "out"),
      "not-a-count",
      { id: "s", field: "capacity" },
    ],
    [
      "a capacity that is drawn",
      [arrive, { ...desk, capacity: "poisson(2)" }, out],
      chain("in", "s", "out"),
      "not-fixed",
      { id: "s", field: "capacity" },
    ],
    [
      "an empty setting",
      [arrive, { ...desk, time: " " }, out],
      chain("in", "s", "out"),
      "empty-setting",
      { id: "s", field: "time" },
    ],
    [
      "conditions without an otherwise",
      [{ ...arrive, wayOut: "condition" }, desk, { ...desk, id: "r" }, out],
      [
        { from: "in", to: "s", condition: "clock > 1 min" },
        { from: "in", to: "r", condition: "clock < 1 min" },
        { from: "s", to: "out" },
        { from: "r", to: "out" },
      ],
      "no-otherwise",
      { id: "in" },
    ],
    ["no arrivals", [desk, out], chain("s", "out"), "no-arrivals", {}],
    [
      "entity where there is none",
      [{ ...arrive, between: "if(entity.age > 1 s, 1 s, 2 s)" }, desk, out],
      chain("in", "s", "out"),
      "bad-expression",
      { id: "in", field: "between" },
    ],
  ])("%s", (_name, elements, links, code, where) => {
    const problem = only(problems(elements, links), code);
    expect(problem).toMatchObject(where);
    expect(problem.message.length).toBeGreaterThan(10);
  });

  test("all problems are reported at once", () => {
    const codes = problems([{ ...arrive, between: "x" }, { ...desk, time: "3 m" }, out], chain("in", "s")).map(
      (p) => p.code,
    );
    expect(codes).toEqual(expect.arrayContaining(["bad-expression", "unit-mismatch", "no-way-out", "unreachable"]));
  });

  test("a warm-up not shorter than the run leads to the run settings", () => {
    expect(
      only(
        problems([arrive, desk, out], chain("in", "s", "out"), { run: { length: "1 h", warmUp: "60 min" } }),
        "warm-up-too-long",
      ),
    ).toMatchObject({ path: ["run", "warmUp"] });
  });

  test("a design with problems has no program, one without has no problems", () => {
    expect(compile(study({ elements: [arrive, desk, out], links: chain("in", "s", "out") }))).toMatchObject({
      problems: [],
    });
    expect(compile(study({ elements: [arrive, desk], links: chain("in", "s") })).program).toBeUndefined();
  });
});

describe("problems at run time stop the replication, name the place, and keep what was measured", () => {
  const failure = (elements: Loose[], links: Loose[], options = {}, types?: Loose[]) => {
    const result = run(program(study({ elements, links, run: { length: "1000 s" }, types })), {
      seed: 1,
      replication: 1,
      ...options,
    })!;
    expect(result.values.some((v) => v > 0)).toBe(true);
    return result.failure!;
  };

  test("a negative time", () => {
    const f = failure([arrive, { ...desk, time: "5 s - clock / 20" }, out], chain("in", "s", "out"));
    expect(f).toMatchObject({ code: "negative-duration", id: "s", field: "time" });
    expect(f.time).toBeGreaterThan(100);
    expect(f.value).toBeLessThan(0);
    expect(f.message).toMatch(/^s: "Time" gave -.* s, and a time cannot be negative\.$/);
  });

  test("a time that is no number", () => {
    expect(
      failure([arrive, { ...desk, time: "exponential(100 s - clock)" }, out], chain("in", "s", "out")),
    ).toMatchObject({ code: "non-finite-duration", id: "s", field: "time" });
  });

  test("shares that change and stop summing to 1", () => {
    expect(
      failure(
        [arrive, desk, { ...desk, id: "r" }, out],
        [
          { from: "in", to: "s", share: "0.5 + clock / 100 s * 0.1" },
          { from: "in", to: "r", share: "0.5" },
          { from: "s", to: "out" },
          { from: "r", to: "out" },
        ],
      ),
    ).toMatchObject({ code: "bad-share", id: "in", field: "wayOut" });
  });

  test("a loop in which no time passes, with the names of the elements in it", () => {
    const f = failure(
      [
        arrive,
        { ...desk, id: "a", time: "if(clock > 50 s, 0 s, 1 s)" },
        { ...desk, id: "b", time: "if(clock > 50 s, 0 s, 1 s)", wayOut: "condition" },
        out,
      ],
      [
        { from: "in", to: "a" },
        { from: "a", to: "b" },
        { from: "b", to: "out", condition: "clock < 50 s" },
        { from: "b", to: "a" },
      ],
    );
    expect(f.code).toBe("instant-loop");
    expect(f.message).toContain("a, b");
  });

  test("too many entities, with the place where they pile up", () => {
    expect(
      failure([{ ...arrive, between: "1 s" }, desk, out], chain("in", "s", "out"), { limits: { entities: 200 } }),
    ).toMatchObject({ code: "too-many-entities", id: "s" });
  });

  test("arrivals that never let time pass", () => {
    expect(
      failure([{ ...arrive, between: "0 s" }, desk, out], chain("in", "s", "out"), { limits: { entities: 5000 } }).code,
    ).toMatch(/too-many-entities|instant-loop/);
  });

  test("an event budget", () => {
    expect(failure([arrive, desk, out], chain("in", "s", "out"), { limits: { events: 100 } })).toMatchObject({
      code: "event-budget",
    });
  });

  test("a group that is no count", () => {
    expect(
      failure([{ ...arrive, group: "if(clock > 100 s, 1.5, 1)" }, desk, out], chain("in", "s", "out")),
    ).toMatchObject({ code: "invalid-count", id: "in", field: "group" });
  });
});

describe("files that are no studies", () => {
  const refused = (text: string) => {
    const read = readStudyText(text);
    if (read.ok) throw new Error("accepted");
    return read.problems[0];
  };
  test.each([
    ["not JSON", "{", "not-json"],
    ["a foreign file", '{"name": "something else"}', "foreign-file"],
    ["a list", "[1, 2]", "foreign-file"],
    ["a newer version", '{"format": "busy-harbor-study", "version": 2}', "newer-version"],
    ["no designs", '{"format": "busy-harbor-study", "version": 1, "name": "x", "designs": []}', "bad-value"],
  ])("%s", (_name, text, code) => expect(refused(text)).toMatchObject({ code, severity: "error" }));

  test("a slip in a hand-written file is named with its path", () => {
    const text = JSON.stringify({
      format: "busy-harbor-study",
      version: 1,
      name: "x",
      designs: [{ id: "d", name: "D", elements: [{ id: "s", kind: "station", name: "S", at: [0, 0], capacty: "2" }] }],
    });
    expect(refused(text)).toMatchObject({
      code: "bad-value",
      path: ["designs", 0, "elements", 0],
      message: expect.stringContaining('"capacty"') as string,
    });
  });
});
