import type { Read } from "../expression/index.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Asker, Need } from "../lowering/requests.ts";

/** Claims of steps: what a token has claimed is kept, wherever it goes, until steps free it. */
export class Claims {
  constructor(private readonly lowering: Lowering) {}

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

  /** It waits no longer. */
  withdraw(token: number): void {
    this.lowering.resources.requests.free(token, 0);
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
