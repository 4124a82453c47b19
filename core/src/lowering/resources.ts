import { EventClass, type Kernel } from "../kernel/kernel.ts";
import { Work } from "../kernel/work.ts";
import type { Replication } from "./replication.ts";
import type { Pool } from "./need.ts";
import { Requests } from "./requests.ts";
import { Standing } from "./standing.ts";

/** Work that can be stopped, and the resources that it claims. Each is made only for models that have it. */
export class Resources {
  private workInProgress: Work | undefined;
  private claims: Requests | undefined;
  private stood: Standing | undefined;
  private readonly pools = new Map<string, Pool>();

  constructor(
    private readonly kernel: Kernel,
    private readonly replication: Replication,
    /** Index of the element at which a token asks, -1 for none, by the id of who asks. */
    private readonly placeOf: (token: number, id: string) => number,
  ) {}

  /** Work in progress of all tokens. */
  get work(): Work {
    if (!this.workInProgress) {
      const work = new Work(this.kernel);
      this.workInProgress = work;
      this.replication.atStart(() => work.reset());
    }
    return this.workInProgress;
  }

  /** Time in which work stood still. */
  get standing(): Standing {
    this.stood ??= new Standing(this.kernel, this.work);
    return this.stood;
  }

  /** The same, where any work can stand still. */
  get keptStanding(): Standing | undefined {
    return this.stood;
  }

  /** Claims of resources. */
  get requests(): Requests {
    if (!this.claims) {
      const claims = new Requests(
        this.kernel,
        this.work,
        (decide) => this.replication.atEndOfInstant(EventClass.resources, decide),
        (token, id) => this.placeOf(token, id),
      );
      this.claims = claims;
      this.replication.atStart(() => claims.reset());
    }
    return this.claims;
  }

  /** The same, where anything can be claimed. */
  get keptRequests(): Requests | undefined {
    return this.claims;
  }

  add(pool: Pool): void {
    this.pools.set(pool.id, pool);
  }

  /** All, by the ids of their elements. */
  each(): ReadonlyMap<string, Pool> {
    return this.pools;
  }

  of(id: string): Pool | undefined {
    return this.pools.get(id);
  }
}
