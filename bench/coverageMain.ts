import { coverage, EXACT } from "./coverage.ts";
import { jointCoverage } from "./jointCoverage.ts";

const EXPERIMENTS = Number(process.argv[2] ?? 2000);
const { share, meanHalfWidth } = coverage(EXPERIMENTS);
console.log(`experiments: ${EXPERIMENTS}`);
console.log(`mean-half-width-percent: ${((100 * meanHalfWidth) / EXACT).toFixed(2)}`);
console.log(`coverage-95: ${(100 * share).toFixed(2)}`);
for (const [name, percent] of Object.entries(jointCoverage(EXPERIMENTS)))
  console.log(`${name}-95: ${percent.toFixed(2)}`);
