import type { DesignOf } from "../document/design.ts";
import type { Scope } from "../expression/index.ts";
import { Problems } from "./resolve/problems.ts";
import { makeScopes } from "./resolve/scopes.ts";

/** What may be named in a design's expressions: where an entity is at hand, and where none is. */
export function expressionScopes(design: DesignOf): { readonly withEntity: Scope; readonly withoutEntity: Scope } {
  return makeScopes(design, () => 0, new Problems(design, []));
}
