import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { compile, measuresOf, readStudyText, run, type Study } from "../src/index.ts";

const FOLDER = join(__dirname, "../../demo");
const read = (name: string): Study => {
  const result = readStudyText(readFileSync(join(FOLDER, name), "utf8"));
  if (!result.ok) throw new Error(JSON.stringify(result.problems.slice(0, 3)));
  return result.study;
};

test.each(readdirSync(FOLDER).filter((name) => name.endsWith(".json")))(
  "%s can be run in each of its designs",
  (name) => {
    const study = read(name);
    expect(study.question).not.toBe("");
    for (const { id } of study.designs)
      expect([id, compile(study, id).problems.filter(({ severity }) => severity === "error")]).toEqual([id, []]);
    const measured = new Set(measuresOf(compile(study, study.designs[0].id).program!).map(({ key }) => key));
    for (const { measure } of study.frame?.deciding ?? [])
      expect([measure, measured.has(measure)]).toEqual([measure, true]);
  },
);

/** Means over a few replications, the same random numbers in each design. */
function meansOf(study: Study, design: string, keys: readonly string[], replications: number): number[] {
  const { program } = compile(study, design);
  const infos = measuresOf(program!);
  const sums = keys.map(() => 0);
  for (let replication = 1; replication <= replications; replication++) {
    const { values, failure } = run(program!, { seed: study.run.seed, replication })!;
    expect(failure).toBeUndefined();
    keys.forEach((key, i) => (sums[i] += values[infos.findIndex((m) => m.key === key)] / replications));
  }
  return sums;
}

describe("what the demos are to show", () => {
  test("at the container quay boxes wait for trucks, and yet it is the shift that decides", () => {
    const study = read("container-quay.json");
    const of = (design: string) => meansOf(study, design, ["ship/timeInSystem.mean", "trucks/wait.mean"], 5);
    const [four, six, shift, both] = ["four", "six", "shift", "both"].map(of);
    // Boxes wait a quarter of an hour for a truck, and hardly at all for six.
    expect(four[1]).toBeGreaterThan(600);
    expect(six[1]).toBeLessThan(120);
    expect(shift[0]).toBeLessThan(six[0] / 2);
    // With the second shift two more trucks bring less than matters.
    expect(Math.abs(shift[0] - both[0])).toBeLessThan(3600);
  });

  test("at the cruise call the nearest first walks less and has wheelchairs wait longer", () => {
    const study = read("cruise-call.json");
    const of = (design: string) => meansOf(study, design, ["chair/timeInSystem.p95", "stewards/distance"], 12);
    const [turn, near, four] = ["turn", "near", "four"].map(of);
    expect(near[1]).toBeLessThan(turn[1]);
    expect(near[0]).toBeGreaterThan(turn[0]);
    // Of three the nearest misses what is wanted, and in turn they just meet it.
    expect(near[0]).toBeGreaterThan(12 * 60);
    expect(turn[0]).toBeLessThan(12 * 60);
    expect(four[0]).toBeLessThan(turn[0] - 2 * 60);
  });

  test("of the island parcels it matters little where boats are based, and more how full they sail", () => {
    const study = read("archipelago-parcels.json");
    const of = (design: string) => meansOf(study, design, ["parcel/timeInSystem.mean"], 4)[0];
    const [even, demand, soon] = ["even", "demand", "soon"].map(of);
    expect(Math.abs(even - demand)).toBeLessThan(15 * 60);
    expect(soon).toBeLessThan(Math.min(even, demand) - 15 * 60);
  });
});
