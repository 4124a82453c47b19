import { coverage, EXACT } from "./coverage.ts";
import { jointCoverage } from "./jointCoverage.ts";
import { SEARCH_PROBLEMS, searched } from "./searchProblems.ts";

const EXPERIMENTS = Number(process.argv[2] ?? 2000);
const { share, meanHalfWidth } = coverage(EXPERIMENTS);
console.log(`experiments: ${EXPERIMENTS}`);
console.log(`mean-half-width-percent: ${((100 * meanHalfWidth) / EXACT).toFixed(2)}`);
console.log(`coverage-95: ${(100 * share).toFixed(2)}`);
for (const [name, percent] of Object.entries(jointCoverage(EXPERIMENTS)))
  console.log(`${name}-95: ${percent.toFixed(2)}`);
// Searches on problems whose best is known: how many in a hundred end within 2 % of it, within their budget.
const SEARCHES = Math.max(8, Math.round(EXPERIMENTS / 20));
for (const [name, problem] of Object.entries(SEARCH_PROBLEMS)) {
  const ended = Array.from({ length: SEARCHES }, (_, i) => searched(problem, 100 + i));
  const good = ended.filter(({ off, spent }) => off <= 0.02 && spent <= problem.settings.budget);
  console.log(`search-${name}: ${((100 * good.length) / SEARCHES).toFixed(1)}`);
  console.log(
    `search-${name}-replications: ${(ended.reduce((sum, { spent }) => sum + spent, 0) / SEARCHES).toFixed(0)}`,
  );
}
