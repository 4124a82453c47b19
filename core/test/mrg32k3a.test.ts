import { applyJump, type SeedWords, seedWords, streamJump, substreamJump, uniformSource } from "../src/random/mrg32k3a.ts";
import { openStreams } from "../src/random/streams.ts";
import reference from "./reference/mrg32k3a-streams.json";

describe("MRG32k3a", () => {
  test.each(reference.rows)("stream $stream, substream $substream gives the published numbers", (row) => {
    const start = applyJump(streamJump(row.stream), reference.seed as unknown as SeedWords);
    const uniform = uniformSource(applyJump(substreamJump(row.substream), start));
    for (const expected of row.first) expect(Math.abs(uniform() / expected - 1)).toBeLessThan(1e-14);
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
    const alone = openStreams(7, 3).uniform(5);
    const others = openStreams(7, 3);
    others.uniform(1)();
    const among = others.uniform(5);
    others.uniform(9)();
    for (let i = 0; i < 50; i++) expect(among()).toBe(alone());
  });
});
