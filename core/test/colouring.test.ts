import { compile, fingerprint, open, type EntityType } from "../src/index.ts";
import { study } from "./build.ts";

const withType = (type: object) =>
  study({
    types: [{ id: "t1", name: "Crate", ...type }],
    elements: [
      { id: "in", kind: "arrivals", between: "10 s", limit: "9", at: [0, 0] },
      { id: "d", kind: "dwell", time: "1 h", at: [10, 0] },
      { id: "out", kind: "departures", at: [20, 0] },
    ],
    links: [
      { from: "in", to: "d" },
      { from: "d", to: "out" },
    ],
    run: { length: "500 s" },
  });
const bands = (...from: string[]) => from.map((value) => ({ from: value, colour: "#D9512C" }));
const bySize = (attributes: object[], ...from: string[]) =>
  withType({ colouring: "attribute", colourAttribute: "size", attributes, bands: bands(...from) });

test("an entity has the colour of the last band that its attribute reaches", () => {
  // Born at 10, 20, … s: the age of the day in seconds, as a weight in kg.
  const { program, problems } = compile(
    bySize([{ name: "size", value: "clock / 10 s * 1 kg" }], "3 kg", "5.5 kg", "8000 g"),
  );
  expect(problems).toEqual([]);
  const session = open(program!, { seed: 1, replication: 1 });
  session.advanceTo(95);
  const { serial, shade } = session.frame();
  const byBirth = [...serial]
    .map((s, i) => [s, shade[i]])
    .sort((a, b) => a[0] - b[0])
    .map(([, s]) => s);
  expect(byBirth).toEqual([0, 0, 1, 1, 1, 2, 2, 3, 3]);
});

test.each([
  ["no such attribute", bySize([{ name: "weight", value: "1" }], "3"), "colourAttribute"],
  ["no number", bySize([{ name: "size", value: '"large"' }], "3"), "colourAttribute"],
  ["another unit", bySize([{ name: "size", value: "2 kg" }], "3 m"), "bands.0"],
  ["a value that changes", bySize([{ name: "size", value: "2" }], "uniform(1, 2)"), "bands.0"],
  ["values that do not rise", bySize([{ name: "size", value: "2" }], "3", "3"), "bands"],
])("colours that cannot be told (%s) are a warning at their place, and the design runs", (_, given, field) => {
  const { program, problems } = compile(given);
  expect(problems.map((p) => [p.code, p.severity, p.id, p.field])).toEqual([["bad-colouring", "warning", "t1", field]]);
  const session = open(program!, { seed: 1, replication: 1 });
  session.advanceTo(95);
  expect(session.frame().count).toBe(9);
});

test("colours, looks and pictures change no run", () => {
  const plain = withType({});
  const type: Partial<EntityType> = {
    look: "picture",
    picture: { file: "0".repeat(64), format: "svg" },
    colouring: "state",
    colour: "#000000",
  };
  expect(fingerprint(withType(type).designs[0], plain.run)).toBe(fingerprint(plain.designs[0], plain.run));
  expect(fingerprint(withType({ speed: "2 m/s" }).designs[0], plain.run)).not.toBe(
    fingerprint(plain.designs[0], plain.run),
  );
});
