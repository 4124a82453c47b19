import { compile, measuresOf, run, settles, settlingOf } from "../src/index.ts";
import { chain, study } from "./study.ts";

const model = (between: string, first: string, runSettings: Record<string, unknown> = {}) =>
  compile(
    study({
      elements: [
        { id: "in", kind: "arrivals", between, first },
        { id: "q", kind: "queue" },
        { id: "s", kind: "station", time: "1000 h", room: "0" },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "q", "s", "out"),
      run: { length: "100 min", warmUp: "50 min", ...runSettings },
    }),
  ).program!;

const positionOf = (program: ReturnType<typeof model>, key: string) =>
  measuresOf(program).findIndex((m) => m.key === key);

test("a level is averaged over each piece, from the start, whatever the warm-up", () => {
  const program = model("10 min", "5 min");
  const measures = ["t1/inSystem.mean", "q/line.mean"].map((key) => positionOf(program, key));
  const series = settlingOf(program, { seed: 1, replication: 1, pieces: 10, measures })!;
  // One more at the middle of each piece.
  expect(series[0]).toEqual(Array.from({ length: 10 }, (_, i) => expect.closeTo(i + 0.5, 9)));
  expect(series[1][9]).toBeCloseTo(8.5, 9);
});

test("pieces make up the whole run, with the numbers that it draws", () => {
  const program = model("exponential(7 min)", "0 min", { warmUp: "0 min", seed: 9 });
  const at = positionOf(program, "t1/inSystem.mean");
  const [pieces] = settlingOf(program, { seed: 9, replication: 3, pieces: 40, measures: [at] })!;
  const whole = run(program, { seed: 9, replication: 3 })!.values[at];
  expect(pieces.reduce((sum, v) => sum + v / 40, 0)).toBeCloseTo(whole, 9);
});

test("a replication that ends early has the pieces that it came through", () => {
  const program = model("10 min", "5 min", { ends: "condition", condition: "q.length >= 4" });
  const at = positionOf(program, "t1/inSystem.mean");
  // Five are there at 45 min: four pieces are whole.
  expect(settlingOf(program, { seed: 1, replication: 1, pieces: 10, measures: [at] })![0]).toHaveLength(4);
  expect(settlingOf(program, { seed: 1, replication: 1, pieces: 10, measures: [at] }, () => true)).toBeDefined();
});

test("only averages of levels settle", () => {
  const found = measuresOf(model("10 min", "5 min")).filter(settles);
  expect(found.map(({ key }) => key)).toEqual(expect.arrayContaining(["t1/inSystem.mean", "q/line.mean"]));
  expect(found.every(({ id }) => id.endsWith(".mean"))).toBe(true);
  expect(found.some(({ id }) => id.startsWith("wait"))).toBe(false);
});
