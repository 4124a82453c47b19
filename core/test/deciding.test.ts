import {
  compile,
  designText,
  designWords,
  measuresOf,
  phraseText,
  readDeciding,
  readStudy,
  targetVerdict,
  usuallyBetter,
  wordsChanged,
} from "../src/index.ts";
import { chain, study } from "./study.ts";

type Loose = Record<string, unknown>;

const desk = () =>
  study({
    elements: [
      { id: "in", kind: "arrivals", name: "Door", between: "exponential(3 min)" },
      { id: "s", kind: "station", name: "Desk", time: "2 min" },
      { id: "out", kind: "departures", name: "Street" },
    ],
    links: chain("in", "s", "out"),
  });

const measures = () => measuresOf(compile(desk()).program!);

const one = (more: Loose) =>
  readDeciding([{ id: "d", measure: "s/wait.mean", better: "less", target: "", matters: "", ...more }], measures())[0];

describe("deciding measures", () => {
  test("are read with their target and the difference that matters, in SI units", () => {
    expect(one({ target: "3 min", matters: "0.5 min" })).toMatchObject({ target: 180, matters: 30, problems: {} });
    expect(one({})).toMatchObject({ target: undefined, matters: undefined, problems: {} });
    expect(one({ measure: "s/utilization", target: "85 %" })).toMatchObject({ target: 0.85 });
  });

  test("say what is wrong, by field", () => {
    expect(one({ measure: "x/y" }).problems).toEqual({ measure: "The design on screen has no such measure." });
    expect(one({ target: "3 kg" }).problems.target).toMatch(/This is .*mass/);
    expect(one({ target: "uniform(1 min, 2 min)" }).problems.target).toBe("A fixed number is wanted.");
    expect(one({ matters: "0 min" })).toMatchObject({ matters: undefined, problems: { matters: /above 0/ } });
    expect(one({ matters: "(" }).problems.matters).toBeDefined();
  });

  test("know which direction is usually better", () => {
    const of = (key: string) => usuallyBetter(measures().find((m) => m.key === key)!);
    expect([of("s/wait.mean"), of("t1/departed")]).toEqual(["less", "more"]);
  });

  test.each([
    [{ n: 5, mean: 8, halfWidth: 1 }, 10, "less", "met"],
    [{ n: 5, mean: 8, halfWidth: 3 }, 10, "less", "open"],
    [{ n: 5, mean: 14, halfWidth: 3 }, 10, "less", "missed"],
    [{ n: 5, mean: 14, halfWidth: 3 }, 10, "more", "met"],
    [{ n: 5, mean: 8, halfWidth: 1 }, 10, "more", "missed"],
    [{ n: 1, mean: 8, halfWidth: Number.NaN }, 10, "less", "open"],
    [{ n: 5, mean: 10, halfWidth: 0 }, 10, "less", "met"],
  ] as const)("%j against %d, %s being better, is %s", (interval, target, better, verdict) => {
    expect(targetVerdict(interval, target, better)).toBe(verdict);
  });
});

describe("a design in words", () => {
  const model = (change: (design: Loose) => void = () => undefined) => {
    const raw = structuredClone(desk()) as unknown as { designs: Loose[] };
    change(raw.designs[0]);
    const read = readStudy(raw);
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    return compile(read.study).model;
  };

  test("tells types, elements, rules and procedures, each a paragraph", () => {
    const words = designWords(
      model((d) => {
        d.procedures = [{ id: "p", name: "Greet", steps: [{ id: "s1", do: "wait", time: "1 min" }] }];
        d.rules = [
          { id: "r", of: "element", at: "s", event: "comes in", steps: [{ id: "s1", do: "call", procedure: "p" }] },
          { id: "r2", of: "element", at: "s", event: "comes in", off: true, steps: [] },
        ];
      }),
    );
    expect(words.map(({ kind, title }) => `${kind} ${title}`)).toEqual([
      "entity type Customer",
      "arrivals Door",
      "station Desk",
      "departures Street",
      "rule Rule",
      "procedure Greet",
    ]);
    expect(phraseText(words[4].phrases)).toBe("When an entity comes in at Desk: do Greet.");
    expect(phraseText(words[5].phrases)).toBe("Wait 1 min");
    expect(designText("Base", words)).toMatch(/^Base\n\nCustomer: /);
  });

  test("marks what differs from another, and tells what is missing", () => {
    const own = designWords(
      model((d) => {
        const elements = d.elements as Loose[];
        elements[1].time = "3 min";
        elements.push({ id: "c", kind: "crew", name: "Clerks", at: [0, 9] });
      }),
    );
    const { changes, missing } = wordsChanged(own, designWords(model()));
    expect([...changes]).toEqual([
      ["s", "changed"],
      ["c", "new"],
    ]);
    expect(missing).toEqual([]);
    expect(wordsChanged(designWords(model()), own).missing.map(({ title }) => title)).toEqual(["Clerks"]);
  });
});
