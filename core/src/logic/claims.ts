import type { Read } from "../expression/index.ts";
import { EventClass } from "../kernel/kernel.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Asker, Need } from "../lowering/requests.ts";

/** Claims of steps: what a token has claimed is kept, wherever it goes, until steps free it. */
export class Claims {
  /** Who asked at this instant and waits for a time at most, with what begins that time. */
  private readonly fresh: { readonly token: number; readonly begin: (token: number) => void }[] = [];
  private readonly askPatience: () => void;

  constructor(private readonly lowering: Lowering) {
    const { kernel, replication } = lowering;
    replication.atStart(() => (this.fresh.length = 0));
    this.askPatience = replication.atEndOfInstant(EventClass.recheck, () => {
      for (const { token, begin } of this.fresh.splice(0))
        if (lowering.resources.requests.waits(token) && Number.isNaN(kernel.calendar.timeOf(token))) begin(token);
    });
  }

  /** Has patience begin for a token that has asked, once it is sure that it must wait: at the end of this instant. */
  beginPatience(token: number, begin: (token: number) => void): void {
    this.fresh.push({ token, begin });
    this.askPatience();
  }

  /** Who asks for so many of each of some resources. */
  asker(
    id: string,
    needs: ReadonlyArray<{ readonly anyOf: readonly string[]; readonly count: Read; readonly which?: Read }>,
  ): Asker {
    const { resources } = this.lowering;
    return {
      id,
      keeps: true,
      yields: false,
      needs: needs.map(({ anyOf, count, which }): Need => ({
        anyOf: anyOf.flatMap((one) => resources.of(one) ?? []),
        count,
        which,
      })),
    };
  }

  ask(token: number, asker: Asker, priority: number): void {
    this.lowering.resources.requests.ask(token, asker, (1 << asker.needs.length) - 1, priority);
  }

  /** Whether a token that goes on does so because its patience is over: then it waits no longer. */
  hasGivenUp(token: number): boolean {
    const { kernel, resources } = this.lowering;
    if (resources.requests.waits(token)) {
      resources.requests.free(token, 0);
      return true;
    }
    if (!Number.isNaN(kernel.calendar.timeOf(token))) kernel.calendar.cancel(token);
    return false;
  }

  /** Frees so many units that the token keeps, of some resources or (none named) of all; tells how many. */
  free(token: number, of: readonly string[], most: number): number {
    return this.lowering.resources.requests.freeKept(token, of, most);
  }

  /** Names of the resources of which a token keeps units. */
  keptBy(token: number): readonly string[] {
    return this.lowering.resources.requests.keptBy(token);
  }
}
