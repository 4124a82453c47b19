import { ln } from "../src/numeric/elementary.ts";
import {
  applyJump,
  type SeedWords,
  seedWords,
  streamJump,
  substreamJump,
  UniformSource,
} from "../src/random/mrg32k3a.ts";
import { RandomStream } from "../src/random/randomStream.ts";
import { openStreams } from "../src/random/streams.ts";
import reference from "./reference/mrg32k3a-streams.json";

describe("MRG32k3a", () => {
  test.each(reference.rows)("stream $stream, substream $substream gives the published numbers", (row) => {
    const start = applyJump(streamJump(row.stream), reference.seed as unknown as SeedWords);
    const source = new UniformSource(applyJump(substreamJump(row.substream), start));
    for (const expected of row.first) expect(Math.abs(source.next() / expected - 1)).toBeLessThan(1e-14);
  });

  test("neighbouring seeds start from words that share nothing, all within range", () => {
    const seen = new Set<number>();
    for (let seed = 0; seed < 2000; seed++) {
      const words = seedWords(seed);
      words.forEach((w, i) => {
        expect(w).toBeGreaterThan(0);
        expect(w).toBeLessThan(i < 3 ? 4294967087 : 4294944443);
        seen.add(w);
      });
    }
    expect(seen.size).toBeGreaterThan(11_980);
  });

  test("a stream gives the same numbers whichever other streams are open", () => {
    const alone = openStreams(7, 3).stream(5).uniform();
    const others = openStreams(7, 3);
    others.stream(1).uniform()();
    const among = others.stream(5).uniform();
    others.stream(9).uniform()();
    for (let i = 0; i < 50; i++) expect(among()).toBe(alone());
  });

  test("draws in blocks are those one by one, and the recurrence in whole numbers", () => {
    const words = seedWords(20_261_123);
    const block = new Float64Array(5000);
    new UniformSource(words).fill(block);
    const single = new UniformSource(words);
    const state = words.map(BigInt);
    const [m1, m2] = [4294967087n, 4294944443n];
    const modulo = (x: bigint, m: bigint) => ((x % m) + m) % m;
    for (const u of block) {
      expect(single.next()).toBe(u);
      const p1 = modulo(1403580n * state[1] - 810728n * state[0], m1);
      const p2 = modulo(527612n * state[5] - 1370589n * state[3], m2);
      state.splice(0, 6, state[1], state[2], p1, state[4], state[5], p2);
      expect(u).toBe(Number(p1 > p2 ? p1 - p2 : p1 - p2 + m1) * (1 / 4294967088));
    }
  });
});

describe("a stream that several draw from", () => {
  const words = seedWords(5);
  const inOrder = Array.from(
    { length: 300 },
    (
      (source) => () =>
        source.next()
    )(new UniformSource(words)),
  );

  test("draws ahead only for who draws alone, and the same numbers", () => {
    const alone = new RandomStream(words).exponential(60);
    for (const u of inOrder) expect(alone()).toBe(-60 * ln(1 - u));
  });

  test("gives each the next number in the order of drawing", () => {
    const stream = new RandomStream(words);
    const drawers = [stream.exponential(60), stream.uniform(), stream.exponential(5)];
    inOrder.forEach((u, i) => {
      const drawn = drawers[(i * 7) % 3]();
      expect(drawn).toBe([-60 * ln(1 - u), u, -5 * ln(1 - u)][(i * 7) % 3]);
    });
  });

  test("refuses one more to draw from it once draws were made ahead", () => {
    const stream = new RandomStream(words);
    stream.exponential(1)();
    expect(() => stream.uniform()).toThrow(/ahead/);
  });
});
