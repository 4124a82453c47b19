import type { Lowering } from "../lowering/lowering.ts";
import type { Need } from "../lowering/need.ts";
import type { Asker } from "../lowering/requests.ts";

const NOTHING: readonly string[] = [];

/** Claims of steps: what a token has claimed is kept, wherever it goes, until steps free it. */
export class Claims {
  /** Who asked at this instant and waits for a time at most, with what begins that time. */
  private readonly fresh: number[] = [];
  private readonly begins: ((token: number) => void)[] = [];
  private count = 0;

  constructor(private readonly lowering: Lowering) {
    const { kernel, replication, resources } = lowering;
    replication.atStart(() => (this.count = 0));
    this.startPatience = () => {
      if (this.count === 0) return;
      const { count } = this;
      this.count = 0;
      for (let i = 0; i < count; i++) {
        const token = this.fresh[i];
        if (resources.requests.waits(token) && Number.isNaN(kernel.calendar.timeOf(token))) this.begins[i](token);
      }
    };
  }

  private readonly startPatience: () => void;

  /** Has patience begin for a token that is about to ask, once it is sure that it must wait. */
  beginPatience(token: number, begin: (token: number) => void): void {
    this.lowering.resources.requests.afterDecision ??= this.startPatience;
    this.fresh[this.count] = token;
    this.begins[this.count++] = begin;
  }

  /** Ids of resources that steps name, with the members of a family in its place: any of them will do. */
  named(ids: readonly string[]): readonly string[] {
    const { nodes, families } = this.lowering.model;
    const membersOf = (id: string) => families.list.find(({ element }) => element.id === id)?.members;
    return ids.flatMap((id) => membersOf(id)?.map((index) => nodes[index].element.id) ?? [id]);
  }

  /** Who asks for so many of each of some resources. */
  asker(
    id: string,
    needs: ReadonlyArray<{ readonly anyOf: readonly string[] } & Omit<Need, "anyOf">>,
    given?: Asker["given"],
  ): Asker {
    const { resources } = this.lowering;
    return {
      id,
      keeps: true,
      yields: false,
      needs: needs.map((need): Need => ({ ...need, anyOf: need.anyOf.flatMap((one) => resources.of(one) ?? []) })),
      ...(given ? { given } : {}),
    };
  }

  ask(token: number, asker: Asker, priority: number): void {
    this.lowering.resources.requests.askLast(token, asker, (1 << asker.needs.length) - 1, priority);
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
    return this.lowering.resources.keptRequests?.keptBy(token) ?? NOTHING;
  }
}
