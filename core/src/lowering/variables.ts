import type { ElementAttribute, VariableModel } from "../model/model.ts";
import { ELEMENT_ATTRIBUTES, VARIABLES } from "../model/sources.ts";
import type { Expressions } from "./expressions.ts";
import type { Replication } from "./replication.ts";

/** The variables of a running model: each begins a replication with its first value, drawn anew where it is drawn. */
export class Variables {
  constructor(variables: readonly VariableModel[], expressions: Expressions, replication: Replication) {
    const values = new Float64Array(variables.length);
    expressions.provide(VARIABLES, values);
    const firsts = variables.flatMap(({ variable: { id, streams }, checked, isSet }, slot) =>
      checked && checked.type.kind !== "list" && (isSet || checked.constant === undefined)
        ? [{ slot, read: checked.compile(expressions.environment(streams.value ?? 0, id, "value")) }]
        : [],
    );
    if (firsts.length > 0)
      replication.atStart(() => {
        for (const { slot, read } of firsts) values[slot] = read(-1);
      });
  }
}

/** Attributes of elements begin each replication with what they begin with. */
export function provideElementAttributes(
  attributes: readonly ElementAttribute[],
  expressions: Expressions,
  replication: Replication,
): void {
  const values = new Float64Array(attributes.length);
  expressions.provide(ELEMENT_ATTRIBUTES, values);
  replication.atStart(() => attributes.forEach(({ first }, slot) => (values[slot] = first)));
}
