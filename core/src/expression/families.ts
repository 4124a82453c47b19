import type { Meaning } from "./scope.ts";
import type { TableSource } from "./tables.ts";

/** A family of elements, as expressions ask for one of its members. */
export interface FamilySource {
  readonly id: string;
  readonly name: string;
  /** Index of each member among all elements. */
  readonly members: readonly number[];
  /** The table whose rows are its members, in their order; members are numbered from 1 where there is none. */
  readonly table: TableSource | undefined;
  /** What is read of each member, as of any element. */
  readonly propertiesOf: (member: number) => ReadonlyMap<string, Meaning>;
}
