import fc from "fast-check";
import {
  compile,
  differences,
  fingerprint,
  randomSources,
  readStudy,
  renameUses,
  ruleTitle,
  run,
  sentenceParts,
  stepKinds,
  stepsText,
  stepText,
  studyJsonSchema,
  takeOver,
  writeStudy,
} from "../src/index.ts";
import { type LogicParts, logicStudy, problemsOf } from "./logicModel.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;

const model = (rules: Loose[], more: Loose = {}): LogicParts => ({
  elements: [
    { id: "in", kind: "arrivals", name: "Lorry", between: "10 min" },
    { id: "j", kind: "junction", name: "Yard gate" },
    { id: "out", kind: "departures", name: "Store" },
    { id: "crew", kind: "crew", name: "Porters" },
  ],
  links: chain("in", "j", "out"),
  types: [{ id: "t1", name: "Crate", attributes: [{ name: "weight", value: "uniform(1, 9)" }] }],
  variables: [{ id: "n", name: "N", value: "0" }],
  rules,
  ...more,
});
const at = (steps: Loose[], more: Loose = {}) => ({ at: "j", event: "comes in", steps, ...more });
const set = (what: string, to: string) => ({ do: "set", values: [{ id: "v", what, to }] });

test("steps and rules read as sentences, what is empty left out", () => {
  const study = logicStudy(
    model([
      at([
        { do: "claim", needs: [{ id: "n", anyOf: ["crew"], count: "2" }], patience: "5 min" },
        { do: "else", steps: [{ do: "end" }] },
        { do: "wait", time: "3 min", note: "as measured" },
        { do: "free", what: [] },
        { ...set("N", "N + 1"), off: true },
      ]),
    ]),
  );
  const [design] = study.designs;
  expect(stepsText(design.rules![0].steps, design)).toBe(
    [
      "Claim 2 Porters, for at most 5 min",
      "Otherwise",
      "    End here",
      "Wait 3 min  // as measured",
      "Free all",
      "(off) Set N to N + 1",
    ].join("\n"),
  );
  expect(ruleTitle(design.rules![0], design)).toBe("When an entity comes in at Yard gate");
  expect(stepText({ id: "x", do: "wait", streams: {}, time: "1 h", as: "stay" } as never, design)).toBe(
    "Wait 1 h as a stay",
  );
});

test("every sentence names settings of its step, and every setting stands in it", () => {
  for (const { kind, sentence, settings, example, help } of stepKinds) {
    const named = sentenceParts(sentence).flatMap((part) =>
      "words" in part
        ? []
        : "optional" in part
          ? part.optional.flatMap((p) => ("field" in p ? [p.field] : []))
          : [part.field],
    );
    expect({ kind, named: [...named].sort() }).toEqual({ kind, named: Object.keys(settings).sort() });
    expect(help.endsWith(".") && example.length > 0).toBe(true);
  }
});

test("differences of designs are told of rules and procedures, and can be taken over", () => {
  const [a, b] = [
    model([at([{ do: "wait", time: "1 min" }])]),
    model([at([{ do: "wait", time: "2 min" }]), at([])]),
  ].map((parts) => logicStudy(parts).designs[0]);
  const found = differences(a, b);
  expect(found.map(({ sentence }) => sentence)).toEqual([
    'Rule "When an entity comes in at Yard gate": steps differ.',
    'Rule "When an entity comes in at Yard gate" is added.',
  ]);
  for (const difference of found) takeOver(difference, b, a);
  expect(differences(a, b)).toEqual([]);
});

test("a new name is written in steps, conditions and what is followed", () => {
  const study = logicStudy(
    model([
      at([{ do: "if", condition: "Porters.free > 0", steps: [set("N", "Porters.busy")] }], {
        condition: "Porters.free < 9",
      }),
    ]),
  );
  const design = structuredClone(study.designs[0]);
  design.elements[3].name = "Stevedores";
  expect(renameUses(design, "Porters", "Stevedores")).toBe(3);
  expect(JSON.stringify(design.rules)).not.toContain("Porters");
});

test("what changes numbers changes the fingerprint; remarks, names, colours and what is off do not", () => {
  const of = (parts: LogicParts) => {
    const study = logicStudy(parts);
    return fingerprint(study.designs[0], study.run, study);
  };
  const steps = [{ do: "wait", time: "1 min" }];
  const plain = of(model([at(steps)]));
  expect(of(model([]))).not.toBe(plain);
  expect(of(model([at([{ do: "wait", time: "2 min" }])]))).not.toBe(plain);
  expect(of(model([at(steps, { name: "Hold", note: "why" })]))).toBe(plain);
  expect(of(model([at([{ ...steps[0], note: "measured", pause: true }]), at([set("N", "1")], { off: true })]))).toBe(
    plain,
  );
  expect(of(model([at([...steps, { do: "look", colour: "#ff0000" }, { do: "log", text: "x" }])]))).toBe(plain);
});

test("steps that draw have streams of their own, kept in copies, and are told among the random sources", () => {
  const study = logicStudy(
    model([
      at([
        { do: "wait", time: "exponential(1 min)" },
        {
          do: "chance",
          steps: [
            { do: "case", weight: "1" },
            { do: "case", weight: "2" },
          ],
        },
        { do: "wait", time: "3 min" },
      ]),
    ]),
  );
  const { program } = compile(study);
  const ofRule = randomSources(program!.model).filter(({ id }) => id === "r1");
  expect(ofRule.map(({ field, label }) => `${field} ${label}`)).toEqual([
    "s1.time Wait for a time: Time",
    "s2.chance Choose by chance",
  ]);
  expect(new Set(ofRule.map(({ stream }) => stream)).size).toBe(2);
  const [design] = study.designs;
  const copied = readStudy({ ...study, designs: [design, { ...structuredClone(design), id: "d2", copiedFrom: "d1" }] });
  if (!copied.ok) throw new Error("It cannot be read");
  expect(copied.study.designs[1].rules).toEqual(design.rules);
});

test("an attribute that entities of another type lack is told, but not behind a test of the type", () => {
  const types = [
    { id: "t1", name: "Crate", attributes: [{ name: "weight", value: "3" }] },
    { id: "t2", name: "Note" },
  ];
  const elements = [...model([]).elements, { id: "in2", kind: "arrivals", name: "Post", entityType: "t2" }];
  const links = [...chain("in", "j", "out"), { from: "in2", to: "j" }];
  const codes = (steps: Loose[]) =>
    problemsOf(model([at(steps)], { types, elements, links })).map(({ code, field }) => `${code} ${field}`);
  expect(codes([set("N", "entity.weight")])).toEqual(["attribute-of-other-type s1.values.v.to"]);
  expect(codes([set("entity.weight", "1")])).toEqual(["attribute-of-other-type s1.values.v.what"]);
  expect(codes([{ do: "if", condition: "entity.type is Crate", steps: [set("N", "entity.weight")] }])).toEqual([]);
  expect(
    codes([
      { do: "if", condition: "entity.type is Note", steps: [] },
      { do: "else", steps: [set("N", "entity.weight")] },
    ]),
  ).toEqual([]);
});

test("the published schema describes steps under steps", () => {
  const text = JSON.stringify(studyJsonSchema());
  for (const { kind } of stepKinds) expect(text).toContain(`"const":"${kind}"`);
});

describe("random procedures", () => {
  const expressionOf = fc.constantFrom(
    "1",
    "N",
    "N + 1",
    "2 min",
    "exponential(1 min)",
    "entity.weight",
    "yes",
    "clock",
    "Porters.free",
    "N > 2",
    '"a"',
    "",
    "x",
    "entity",
    "s",
    "a",
  );
  const step: fc.Memo<Loose> = fc.memo((depth) => {
    const kinds = stepKinds.map(({ kind }) => kind);
    return fc
      .record({
        kind: fc.constantFrom(...kinds),
        texts: fc.array(expressionOf, { minLength: 6, maxLength: 6 }),
        under: depth > 1 ? fc.array(step(depth - 1), { maxLength: 3 }) : fc.constant([]),
        off: fc.boolean(),
      })
      .map(({ kind, texts, under, off }) => {
        const of = stepKinds.find((one) => one.kind === kind)!;
        const made: Loose = { do: kind, ...(off ? { off } : {}) };
        Object.values(of.settings).forEach((setting, i) => {
          const { name, form } = setting as unknown as { name: string; form: string };
          const text = texts[i % texts.length];
          if (form === "expression" || form === "text")
            made[name] = name === "name" || name === "into" ? ["a", "b", ""][i % 3] : text;
          else if (form === "resources") made[name] = ["crew"];
          else if (form === "reference") made[name] = { procedure: "p1", measure: "m", type: "t1" }[name] ?? "out";
          else if (name === "values" && kind === "write") made[name] = [{ id: "v", column: "a", to: text }];
          else if (name === "values") made[name] = [{ id: "v", what: ["N", "entity.weight", "a"][i % 3], to: text }];
          else if (name === "needs") made[name] = [{ id: "n", anyOf: ["crew"], count: "1" }];
        });
        if (of.holdsSteps) made.steps = under;
        return made;
      });
  });

  test("compile with problems, or run within their budget to the same bits", () => {
    let ran = 0;
    fc.assert(
      fc.property(fc.array(step(3), { maxLength: 5 }), fc.array(step(2), { maxLength: 3 }), (steps, procedure) => {
        const study = logicStudy(
          model([at(steps)], {
            measures: [{ id: "m", kind: "recorded", name: "M" }],
            procedures: [{ id: "p1", name: "P", steps: procedure }],
            run: { length: "60 min", mostEvents: 1000 },
          }),
        );
        const { program, problems } = compile(study);
        for (const { message, path } of problems) expect(message.length > 0 && path.length > 0).toBe(true);
        if (!program) return expect(problems.some(({ severity }) => severity === "error")).toBe(true);
        ran += 1;
        const limits = { stepsAtAnInstant: 10_000 };
        const result = run(program, { seed: 1, replication: 1, limits })!;
        expect(run(program, { seed: 1, replication: 1, limits })!.values).toEqual(result.values);
        const again = readStudy(JSON.parse(writeStudy(study)));
        expect(again.ok && again.study).toEqual(study);
      }),
      { numRuns: Number(process.env.FUZZ ?? 600), seed: 9 },
    );
    expect(ran).toBeGreaterThan(20);
  });
});
