import type { VariableModel } from "../model/model.ts";
import { VARIABLES } from "../model/sources.ts";
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
