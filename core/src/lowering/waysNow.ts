import type { Read } from "../expression/index.ts";
import type { Kernel } from "../kernel/kernel.ts";
import type { Model } from "../model/model.ts";
import type { Counting } from "../movement/network.ts";
import type { Expressions } from "./expressions.ts";
import type { Replication } from "./replication.ts";

/**
 * How the ways that are drawn count just now, where what some of them count changes while a model runs. It is asked
 * whenever a way is looked for; routes are prepared anew only when something counts otherwise than before.
 */
export class WaysNow {
  /** Another number whenever they count otherwise. */
  version = 0;
  private counting: Counting | undefined;
  private reads: readonly (readonly [way: number, read: Read])[] | undefined;
  private readonly factors: Float64Array;

  constructor(
    private readonly model: Pick<Model, "followed" | "roads">,
    private readonly kernel: Kernel,
    private readonly expressions: Expressions,
    replication: Replication,
  ) {
    this.factors = new Float64Array(model.followed.length).fill(Number.NaN);
    if (this.change)
      replication.atStart(() => {
        this.factors.fill(Number.NaN);
        this.counting = undefined;
        this.version += 1;
      });
  }

  /** Whether what any of them counts may change. */
  get change(): boolean {
    return this.model.followed.some(({ counts }) => counts !== undefined);
  }

  /** How they count now; undefined where that never changes. */
  look(): Counting | undefined {
    const { factors, kernel } = this;
    this.reads ??= this.model.followed.flatMap(({ road, counts }, way) =>
      counts ? [[way, counts.compile(this.expressions.environment(0, road.id, "factor"))] as const] : [],
    );
    let isSame = true;
    for (const [way, read] of this.reads) {
      const factor = read(-1);
      if (factor === factors[way]) continue;
      if (!(factor > 0 && factor < Infinity)) {
        kernel.fail({
          code: "step-failed",
          message: `gave ${factor}, and a way counts more than 0 times its length.`,
          hint: "Have it give a number above 0, the larger the less the way is liked.",
          id: this.model.followed[way].road.id,
          field: "factor",
        });
        continue;
      }
      factors[way] = factor;
      isSame = false;
    }
    if (!isSame) {
      this.counting = this.model.roads!.counting(factors);
      this.version += 1;
    }
    return this.counting;
  }
}
