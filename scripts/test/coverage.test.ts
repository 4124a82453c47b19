import { spawnSync } from "node:child_process";
import { join } from "node:path";

jest.setTimeout(120_000);

test("intervals, comparisons and selections hold about as often as they say (a small version of npm run bench:coverage)", () => {
  const { stdout, stderr } = spawnSync(process.execPath, [join(process.cwd(), "scripts/bench-coverage.mjs"), "150"], {
    encoding: "utf8",
  });
  const share = Number(/^coverage-95: ([\d.]+)$/m.exec(stdout)?.[1] ?? stderr);
  // Four standard errors of 150 experiments to either side.
  expect(share).toBeGreaterThan(87.8);
  expect(share).toBeLessThanOrEqual(100);
  // Those that are joint, or promise a least chance, may hold more often than they say.
  const others = [...stdout.matchAll(/^([a-z-]+)-95: ([\d.]+)$/gm)].filter(([, name]) => name !== "coverage");
  expect(others.map(([, name]) => name)).toEqual([
    "joint-tukey",
    "joint-bonferroni",
    "joint-with-best",
    "subset",
    "joint-bonferroni-paired",
    "joint-with-best-paired",
    "subset-paired",
    "rinott",
    "kim-nelson",
  ]);
  for (const [, name, percent] of others) expect([name, Number(percent) > 87.8]).toEqual([name, true]);
  // Of eight searches that are right 98 times in a hundred, six or fewer are one time in 90.
  const searches = [...stdout.matchAll(/^search-([a-z]+): ([\d.]+)$/gm)];
  expect(searches.map(([, name]) => name)).toEqual(["staffing", "bowl"]);
  for (const [, name, percent] of searches) expect([name, Number(percent) > 75]).toEqual([name, true]);
});
