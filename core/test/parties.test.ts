import { compile, open, run } from "../src/index.ts";
import { phraseText, readBack } from "../src/elements/index.ts";
import { type LogicParts, logicStudy } from "./logicModel.ts";
import { compiled, departuresOf, valuesOf } from "./oneRun.ts";
import { peopleTable } from "./peopleTable.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;

/** Guests come to a door and leave by it; what they do in between is told by steps. */
const visit = (steps: Loose[], parts: Partial<LogicParts> & { come?: Loose } = {}) => {
  const { come = {}, elements = [], rules = [], ...more } = parts;
  return logicStudy({
    elements: [
      { id: "a", kind: "arrivals", name: "Ferry", first: "0 s", between: "1 h", limit: "1", at: [0, 0], ...come },
      { id: "door", kind: "junction", name: "Door", at: [0, 0] },
      { id: "d", kind: "departures", name: "Exit", at: [0, 0] },
      { id: "west", kind: "place", name: "West", at: [30, 0] },
      { id: "east", kind: "place", name: "East", at: [50, 0] },
      ...elements,
    ],
    links: chain("a", "door", "d"),
    types: [
      {
        id: "t1",
        name: "Guest",
        speed: "1 m/s",
        attributes: [
          { name: "party", value: "Ferry.groups" },
          { name: "nr", value: "Ferry.created" },
        ],
      },
    ],
    rules: [{ at: "door", event: "comes in", steps }, ...rules],
    run: { length: "1000 s" },
    ...more,
  });
};

describe("parties", () => {
  /** Who is the first, second … of a party of three walks to the east or the west, or stays; then all meet. */
  const apart = (meet: Loose): Loose[] => [
    { do: "if", condition: "entity.nr mod 3 = 1", steps: [{ do: "walk to", to: "East" }] },
    { do: "else if", condition: "entity.nr mod 3 = 2", steps: [{ do: "walk to", to: "West" }] },
    { do: "meet", count: "3", place: "coach", key: "entity.party", ...meet },
    { do: "send", to: "Exit" },
  ];

  test("come together, part, and meet again: all wait for the last of their own party", () => {
    const come = { group: "3", between: "10 s", limit: "2" };
    // The furthest of the first is there at 50, of the second, who came at 10, at 60.
    expect(departuresOf(visit(apart({}), { come }))).toEqual([50, 50, 50, 60, 60, 60]);
    // Of no key any three: those who stay behind at 0 and 10, and so on in the order of coming.
    expect(departuresOf(visit(apart({ key: "" }), { come }))).toEqual([30, 30, 30, 60, 60, 60]);
    const values = valuesOf(visit(apart({}), { come }));
    expect(values.get("t1/waiting.mean")).toBeCloseTo((0 + 20 + 50) / 3, 9);
  });

  test("who waits for a time at most goes on without the others", () => {
    const steps = apart({ patience: "15 s" });
    steps.splice(3, 0, { do: "else", steps: [{ do: "wait", time: "100 s" }] });
    // Nobody comes for 15 s: at 0 + 15, at 30 + 15, at 50 + 15, and then a hundred more.
    expect(departuresOf(visit(steps, { come: { group: "3" } }))).toEqual([115, 145, 165]);
    // With patience enough nobody gives up, also where it would end later at the very place.
    const enough = apart({ patience: "50 s" });
    enough.splice(3, 0, { do: "else", steps: [{ do: "wait", time: "100 s" }] });
    expect(departuresOf(visit(enough, { come: { group: "3" } }))).toEqual([50, 50, 50]);
  });

  test("who waits for others that never come is counted", () => {
    const of = visit(apart({ count: "4" }), { come: { group: "3" } });
    const values = valuesOf(of);
    expect([...values].filter(([key]) => key.startsWith("run/stillWaiting")).map(([, value]) => value)).toEqual([3]);
    const wrong = compiled(visit(apart({ count: "entity.nr - 0.5" }), { come: { group: "3" } }));
    expect(run(wrong, { seed: 1, replication: 1 })!.failure).toMatchObject({ code: "invalid-count" });
  });
});

describe("who is called", () => {
  const keep = (more: Loose[] = []): Loose[] => [
    { do: "keep", place: "hall" },
    ...more,
    { do: "wait", time: "10 s" },
    { do: "send", to: "Exit" },
  ];
  const come = { between: "5 s", limit: "3" };
  const desk = (call: Loose, after: Loose[] = []) => ({
    of: "system",
    event: "start",
    steps: [
      {
        do: "while",
        condition: "yes",
        steps: [{ do: "call for", place: "hall", name: "one", to: "West", ...call }, ...after],
      },
    ],
  });

  test("walks there, and goes on with its own steps; who calls waits until it is there, or not", () => {
    // Each walks 30 s and stays 10; the next is called when the one before is there.
    expect(departuresOf(visit(keep(), { come, rules: [desk({ stays: true })] }))).toEqual([40, 70, 100]);
    // All at once, as they come.
    expect(departuresOf(visit(keep(), { come, rules: [desk({})] }))).toEqual([40, 45, 50]);
    // Half as fast, as the one who calls says; the rest of the time the desk works.
    expect(
      departuresOf(
        visit(keep(), { come, rules: [desk({ stays: true, pace: "0.5 m/s" }, [{ do: "wait", time: "7 s" }])] }),
      ),
    ).toEqual([70, 137, 204]);
  });

  test("is the first, or the one of the most for whom something holds", () => {
    const rules = [
      desk({ stays: true, which: "most", by: "one.nr", where: "one.nr < 3" }, [{ do: "wait", time: "0 s" }]),
    ];
    const late = { ...rules[0], steps: [{ do: "wait", time: "20 s" }, ...rules[0].steps] };
    const of = visit(keep(), { come, rules: [late] });
    // At 20 all three are there: the second is called, then the first, and the third never.
    expect(departuresOf(of)).toEqual([60, 90]);
    expect(valuesOf(of).get("t1/moving.mean")).toBe(30);
  });

  test("in time goes on as called, and only who is not goes by the otherwise", () => {
    const steps = keep([{ do: "else", steps: [{ do: "wait", time: "300 s" }] }]);
    steps[0] = { ...steps[0], patience: "40 s" };
    // The third is not called until 60, when its patience was over at 50.
    expect(departuresOf(visit(steps, { come, rules: [desk({ stays: true })] }))).toEqual([40, 70, 50 + 310]);
  });

  test("and the same of who is taken without being carried", () => {
    const steps = keep([{ do: "else", steps: [{ do: "wait", time: "300 s" }] }]);
    steps[0] = { ...steps[0], patience: "40 s" };
    const take = {
      of: "system",
      event: "start",
      steps: [
        { do: "wait", time: "20 s" },
        { do: "take", place: "hall", name: "one" },
      ],
    };
    expect(departuresOf(visit(steps, { come: { limit: "1" }, rules: [take] }))).toEqual([30]);
  });

  test("is seen on its way", () => {
    const { program } = compile(visit(keep(), { come, rules: [desk({ stays: true })] }), "d1");
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(12);
    const { walks } = session.frame();
    expect(Object.values(walks)).toEqual([[1, 3, 0]]);
  });

  test("nobody can be called from where nobody is kept", () => {
    const of = visit([{ do: "wait", time: "1 s" }], { rules: [desk({})] });
    expect(compile(of, "d1").problems.map(({ code }) => code)).toContain("nothing-kept");
  });
});

describe("what is used", () => {
  const scanner = { id: "s", kind: "equipment", name: "Scanner", count: "1", at: [10, 0] };
  const leave = { do: "send", to: "Exit" };

  test("is waited for, used for the time, and given back, and nothing else that is held", () => {
    const of = visit([{ do: "use", anyOf: ["s"], time: "20 s" }, leave], {
      elements: [scanner],
      come: { between: "1 s", limit: "3" },
    });
    expect(departuresOf(of)).toEqual([20, 40, 60]);
    const values = valuesOf(of);
    expect(values.get("s/state.busy")).toBe(60 / 1000);
    expect(values.get("t1/worked.mean")).toBe(20);
    // Two of them, of which the first is held all along: one is left to use.
    const held = visit(
      [
        { do: "if", condition: "entity.nr = 1", steps: [{ do: "claim", needs: [{ id: "n", anyOf: ["s"] }] }] },
        { do: "use", anyOf: ["s"], time: "20 s" },
        { do: "if", condition: "entity.nr = 1", steps: [{ do: "wait", time: "100 s" }, { do: "free" }] },
        leave,
      ],
      { elements: [{ ...scanner, count: "2" }], come: { between: "1 s", limit: "3" } },
    );
    expect(departuresOf(held)).toEqual([40, 60, 120]);
  });

  test("for a time at most is waited for, and work stands still while it is down", () => {
    const impatient = visit(
      [
        { do: "use", anyOf: ["s"], time: "20 s", patience: "5 s" },
        { do: "else", steps: [{ do: "wait", time: "1 s" }] },
        leave,
      ],
      { elements: [scanner], come: { between: "1 s", limit: "2" } },
    );
    expect(departuresOf(impatient)).toEqual([7, 20]);
    const down = { ...scanner, breakdowns: [{ id: "b", clock: "clock time", every: "8 s", repair: "1000 s" }] };
    const of = visit([{ do: "use", anyOf: ["s"], time: "20 s" }, leave], { elements: [down] });
    expect(departuresOf(of)).toEqual([]);
    expect(valuesOf(of).get("s/state.busy")).toBe(8 / 1000);
  });

  test("goes by who does it, where a crew has rows", () => {
    const people = peopleTable("", [
      ["Ann", "0.5"],
      ["Bo", "2"],
    ]);
    const crew = { id: "c", kind: "crew", name: "Nurses", table: "t", at: [0, 0] };
    const used = (more: Loose) =>
      departuresOf(
        visit([{ do: "use", anyOf: ["c"], time: "20 s", times: "1 / who.pace", ...more }, leave], {
          elements: [crew],
          tables: [people],
        }),
      );
    expect(used({})).toEqual([40]);
    expect(used({ can: "who.pace > 1" })).toEqual([10]);
  });
});

test("a crew says which steps need it, of a family by its name", () => {
  const of = visit([{ do: "use", anyOf: ["c"], time: "1 s" }], {
    elements: [
      { id: "c", kind: "crew", name: "Nurses", at: [0, 0] },
      { id: "p", kind: "equipment", name: "Scales", at: [0, 0] },
    ],
    procedures: [
      { id: "x", name: "Weigh in", parameters: [], steps: [{ do: "claim", needs: [{ id: "n", anyOf: ["c"] }] }] },
    ],
  });
  const { model } = compiled(of);
  const words = (id: string) =>
    phraseText(
      readBack(
        model.nodes.find(({ element }) => element.id === id)!,
        model,
      ),
    );
  expect(words("c")).toContain("Needed by Weigh in and a rule;");
  expect(words("p")).toContain("Needed by nothing yet;");
});
