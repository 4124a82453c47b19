import fc from "fast-check";
import type { Need, Pool } from "../src/lowering/need.ts";
import { Trial } from "../src/lowering/trial.ts";
import { UNIT } from "../src/lowering/units.ts";

/** Units that are free, or held by somebody (a token from 1), of one pool that begins at a number among all. */
const poolOf = (base: number, holders: readonly number[]): Pool =>
  ({
    name: `Pool ${base}`,
    base,
    reserved: 0,
    units: {
      count: holders.length,
      state: Uint8Array.from(holders, (holder) => (holder > 0 ? UNIT.busy : UNIT.idle)),
      occupant: Int32Array.from(holders, (holder) => (holder > 0 ? holder : -1)),
      free: holders.filter((holder) => holder === 0).length,
      isStopped: () => false,
    },
  }) as unknown as Pool;

/** A row of needs: so many of those that can, as bits by unit, 0 for anybody. */
interface Row {
  readonly count: number;
  readonly can: number;
  readonly pools: readonly number[];
}

/** Whether rows can be met by units that are there, tried one way after another. */
function canBeMet(rows: readonly Row[], free: readonly (readonly boolean[])[]): boolean {
  const [row, ...rest] = rows;
  if (!row) return true;
  return row.pools.some((p) => {
    const able = free[p].flatMap((is, unit) => (is && (row.can === 0 || (row.can >> unit) & 1) ? [unit] : []));
    return subsets(able, row.count).some((taken) =>
      canBeMet(
        rest,
        free.map((units, q) => (q === p ? units.map((is, unit) => is && !taken.includes(unit)) : units)),
      ),
    );
  });
}

function subsets(of: readonly number[], count: number): number[][] {
  if (count === 0) return [[]];
  return of.flatMap((one, i) => subsets(of.slice(i + 1), count - 1).map((others) => [one, ...others]));
}

const row = fc.record({
  count: fc.integer({ min: 0, max: 2 }),
  can: fc.integer({ min: 0, max: 15 }),
  pools: fc.constantFrom<readonly number[]>([0], [1], [0, 1]),
});
const holders = fc.array(fc.integer({ min: 0, max: 2 }), { minLength: 4, maxLength: 4 });

test("a claim is met by units that can, each by one, whenever there is a way to: as all ways tried one by one say", () => {
  let met = 0;
  let unmet = 0;
  fc.assert(
    fc.property(
      fc.array(row, { minLength: 1, maxLength: 3 }),
      fc.tuple(holders, holders),
      fc.constantFrom(new Set<number>(), new Set([1])),
      (rows, held, alsoFree) => {
        const pools = held.map((of, p) => poolOf(4 * p, of));
        const needs = rows.map(({ count, can, pools: named }): Need => ({
          anyOf: named.map((p) => pools[p]),
          count: () => count,
          ...(can === 0 ? {} : { able: (_, __, unit) => ((can >> unit) & 1) === 1 }),
        }));
        const trial = new Trial({
          eachRow: (_, act) => needs.forEach(act),
          countOf: (need) => need.count(0),
          poolsFor: (_, __, need) => need.anyOf,
          whereAsked: () => -1,
        });
        const isFree = held.map((of) => of.map((holder) => holder === 0 || alsoFree.has(holder)));
        const fits = trial.fits(9, true, alsoFree);
        // What a row is met from is the first of its pools that will do with those before, so more may be possible.
        const single = rows.every(({ pools: named }) => named.length === 1);
        if (single) expect(fits).toBe(canBeMet(rows, isFree));
        if (!fits) {
          if (single) unmet += 1;
          return;
        }
        met += 1;
        expect(canBeMet(rows, isFree)).toBe(true);
        const taken = new Set<string>();
        rows.forEach(({ count, can }, i) => {
          expect(trial.units[i].length).toBe(count);
          for (const unit of trial.units[i]) {
            const p = pools.indexOf(trial.pools[i]);
            expect(can === 0 || ((can >> unit) & 1) === 1).toBe(true);
            expect(isFree[p][unit]).toBe(true);
            expect(taken.has(`${p} ${unit}`)).toBe(false);
            taken.add(`${p} ${unit}`);
          }
        });
        expect(pools.map(({ reserved }) => reserved)).toEqual([0, 0]);
      },
    ),
    { numRuns: 400, seed: 25 },
  );
  expect(met).toBeGreaterThan(50);
  expect(unmet).toBeGreaterThan(50);
});
