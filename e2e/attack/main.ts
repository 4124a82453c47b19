import { attackDocuments } from "./documents.ts";
import { attackByFullDisk } from "./disk.ts";
import { attackByDrawings } from "./drawings.ts";
import type { Outcome } from "./outcome.ts";
import { attackByKills, attackByRequests } from "./server.ts";

/** The whole attack; what fails is told in words, and counts. */
async function main(): Promise<number> {
  const parts: readonly (readonly [name: string, part: () => Outcome | Promise<Outcome>])[] = [
    ["documents", () => attackDocuments(Number(process.env.ATTACK_DOCUMENTS ?? 100_000))],
    ["kills", () => attackByKills(Number(process.env.ATTACK_KILLS ?? 24))],
    ["full-disk", () => attackByFullDisk(Number(process.env.ATTACK_DISK ?? 10))],
    ["requests", () => attackByRequests()],
    ["drawings", () => attackByDrawings()],
  ];
  let failed = 0;
  for (const [name, part] of parts) {
    const { counts, failures } = await part();
    console.log(
      `${name}: ${Object.entries(counts)
        .map(([what, n]) => `${what} ${n}`)
        .join(", ")}, failures ${failures.length}`,
    );
    for (const failure of failures.slice(0, 20)) console.log(`  ${failure}`);
    failed += failures.length;
  }
  console.log(`failures: ${failed}`);
  return failed === 0 ? 0 : 1;
}

process.exitCode = await main();
