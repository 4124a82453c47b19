import { spawnSync } from "node:child_process";
import { join } from "node:path";

jest.setTimeout(120_000);

test("95 % intervals hold the true mean wait of M/M/1 about as often as they say (a small version of npm run bench:coverage)", () => {
  const { stdout, stderr } = spawnSync(process.execPath, [join(process.cwd(), "scripts/bench-coverage.mjs"), "150"], {
    encoding: "utf8",
  });
  const share = Number(/^coverage-95: ([\d.]+)$/m.exec(stdout)?.[1] ?? stderr);
  // Four standard errors of 150 experiments to either side.
  expect(share).toBeGreaterThan(87.8);
  expect(share).toBeLessThanOrEqual(100);
});
