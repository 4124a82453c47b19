import { chain, expectInterval, replicate, study } from "./build.ts";
import reference from "./reference/queueing.json";

jest.setTimeout(240_000);

const REPLICATIONS = 10;
const SEED = 2606;
const NARROW = 0.03;

type Loose = Record<string, unknown>;
const exact = (name: string) =>
  reference.find((row) => row.name === name)!.exact as unknown as Readonly<Record<string, number>>;

/** Two benches so far apart at either of which a job is done with even chances; the fitters live at the first. */
const benches = (metres: number, work: string, crew: Loose) => ({
  elements: [
    { id: "j", kind: "junction", at: [0, 50], wayOut: "share" },
    ...["near", "far"].map((id, i) => ({
      ...{ id, kind: "station", at: [i * metres, 0], capacity: "500", time: work },
      needs: [{ id: "n", anyOf: ["c"] }],
    })),
    { id: "c", kind: "crew", at: [0, 0], walks: "straight", speed: "1 m/s", ...crew },
  ] as Loose[],
  links: [
    { id: "to near", from: "j", to: "near", share: "50 %" },
    { id: "to far", from: "j", to: "far", share: "50 %" },
  ] as Loose[],
});

describe("crews that walk against known answers, in 99.9 % intervals under 3 % wide", () => {
  /**
   * With even chances the next job is at the other bench, whatever was before: service is a walk of 60 s or none
   * and 45 s of work, each time anew, so it is M/G/1 (Pollaczek and Khinchine, as in Kleinrock 1975, 5.63).
   */
  test("one who walks between two places, the walk as part of service, is M/G/1", async () => {
    const [walk, work, between] = [60, 45, 110];
    const mean = walk / 2 + work;
    const square = ((walk + work) ** 2 + work ** 2) / 2;
    const rho = mean / between;
    const wait = square / between / (2 * (1 - rho));
    const { elements, links } = benches(walk, `${work} s`, {});
    const { values } = await replicate(
      study({
        elements: [
          { id: "in", kind: "arrivals", between: `exponential(${between} s)`, at: [0, 90] },
          ...elements,
          { id: "out", kind: "departures", at: [0, 99] },
        ],
        links: [...chain("in", "j"), ...links, ...chain("near", "out"), { id: "f", from: "far", to: "out" }],
        run: { length: "160 d", warmUp: "2 d" },
      }),
      REPLICATIONS,
      SEED,
    );
    expectInterval(values("c/wait.mean"), wait, NARROW);
    expectInterval(values("t1/timeInSystem.mean"), wait + mean, NARROW);
    expectInterval(values("c/state.walking"), walk / 2 / between, NARROW);
    expectInterval(values("c/state.busy"), work / between, NARROW);
    expectInterval(values("c/walk.mean"), walk, NARROW);
  });

  /**
   * Machine interference with a walk before every second repair on average: M/G/1 with N sources, of which the share of
   * time in which nobody waits for the fitter is 1 / (1 + N λ b Σ C(N-1, j) Π (1 - φ(iλ)) / φ(iλ)), φ being the
   * transform of walk and repair together (Takács 1962, chapter 5).
   */
  test("a fitter who walks to five machines is M/G/1 with five sources", async () => {
    const [n, up, repair, walk] = [5, 3600, 300, 400];
    const rate = 1 / up;
    const transform = (s: number) => ((1 + Math.exp(-s * walk)) / 2) * (1 / (1 + s * repair));
    const mean = walk / 2 + repair;
    let sum = 0;
    let product = 1;
    let choose = 1;
    for (let j = 0; j < n; j++) {
      sum += choose * product;
      choose = (choose * (n - 1 - j)) / (j + 1);
      product *= (1 - transform((j + 1) * rate)) / transform((j + 1) * rate);
    }
    const nobody = 1 / (1 + n * rate * mean * sum);
    const repairs = (1 - nobody) / mean;
    const { elements, links } = benches(walk, `exponential(${repair} s)`, {});
    const { values } = await replicate(
      study({
        elements: [
          { id: "in", kind: "arrivals", between: "1 s", first: "0 s", limit: String(n), at: [0, 90] },
          { id: "up", kind: "station", capacity: String(n), time: `exponential(${up} s)`, at: [0, 70] },
          ...elements,
        ],
        links: [...chain("in", "up", "j"), ...links, ...chain("near", "up"), { id: "f", from: "far", to: "up" }],
        run: { length: "1000 d", warmUp: "20 d" },
      }),
      REPLICATIONS,
      SEED,
    );
    const busy = values("c/state.busy");
    expectInterval(
      busy.map((share, i) => share + values("c/state.walking")[i]),
      1 - nobody,
      NARROW,
    );
    expectInterval(values("up/state.busy"), (repairs * up) / n, NARROW);
    expectInterval(values("up/throughput"), repairs, NARROW);
  });

  test("two who see to six machines without a walk are the machine repair model", async () => {
    const known = exact("machine repair");
    const days = 4000;
    const { values } = await replicate(
      study({
        elements: [
          { id: "in", kind: "arrivals", between: "1 s", first: "0 s", limit: "6" },
          { id: "up", kind: "station", capacity: "6", time: "exponential(20 h)" },
          { id: "down", kind: "station", capacity: "6", time: "exponential(4 h)", needs: [{ id: "n", anyOf: ["c"] }] },
          { id: "c", kind: "crew", count: "2", walks: "straight" },
        ].map((element) => ({ ...element, at: [0, 0] })),
        links: [...chain("in", "up", "down"), { id: "back", from: "down", to: "up" }],
        run: { length: `${days} d`, warmUp: "100 d" },
      }),
      REPLICATIONS,
      SEED,
    );
    expectInterval(
      values("up/state.busy").map((share) => 6 * (1 - share)),
      known.L_down,
      NARROW,
    );
    expectInterval(values("c/state.busy"), known.utilization, NARROW);
    expectInterval(
      values("down/done").map((done) => done / (24 * (days - 100))),
      known.throughput,
      NARROW,
    );
  });
});
