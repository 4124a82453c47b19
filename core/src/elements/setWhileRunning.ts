import type { Write } from "../expression/index.ts";
import type { Claimable } from "../kernel/claims.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Units } from "../lowering/units.ts";
import type { Node } from "../model/model.ts";

/** A setting that steps may give another number while the model runs; where it cannot have it, the run fails there. */
export function countWriter(
  { element }: Pick<Node, "element">,
  { kernel }: Pick<Lowering, "kernel">,
  field: string,
  most: number,
  set: (count: number) => void,
): Write {
  return (_, count) => {
    if (Number.isInteger(count) && count >= 0 && count <= most) {
      set(count);
      return;
    }
    kernel.fail({
      code: "invalid-count",
      message: `gave ${count}, and it is a whole number ${most < Infinity ? `from 0 to ${most}` : "of 0 or more"}.`,
      hint: most < Infinity ? "Its card says how many there are at most." : "Use round(…) and max(0, …).",
      id: element.id,
      field,
      value: count,
    });
  };
}

/** How many slots or units are in use at most, by the setting `field` of that name, and whether hours are kept. */
export const unitWriters = <F extends string>(
  node: Pick<Node, "element">,
  lowering: Pick<Lowering, "kernel">,
  field: F,
  units: Units,
): Record<F | "keepsHours", Write> =>
  ({
    [field]: countWriter(node, lowering, field, units.count, (count) => units.useAtMost(count)),
    keepsHours: (_: number, keep: number) => units.keepHours(keep !== 0),
  }) as Record<F | "keepsHours", Write>;

/** What is read of room without a limit: the most that can be set. */
const NO_LIMIT = 1e9;

/** Room that steps may make larger or smaller: who has a place keeps it, and nobody is let in until there is one. */
export class SettableRoom {
  private now: number;

  constructor(
    private readonly room: Claimable | undefined,
    atFirst: number,
    { replication }: Pick<Lowering, "replication">,
  ) {
    this.now = atFirst;
    replication.atStart(() => (this.now = atFirst));
  }

  get value(): number {
    return this.room ? this.now : NO_LIMIT;
  }

  set(places: number): void {
    const change = places - this.now;
    this.now = places;
    this.room?.adjust(change);
  }
}

/** Whether steps of a model set a property of that name of some element. */
export const isSet = ({ model }: Pick<Lowering, "model">, ...properties: readonly string[]): boolean =>
  properties.some((property) => model.logic?.sets.has(property.toLowerCase()) === true);
