import type { Source } from "./running.ts";
import type { ColumnSource, TableSource } from "./tables.ts";
import type { ListTerm } from "./term.ts";
import type { ValueType } from "./types.ts";

/** What a name stands for where an expression is written; its properties make a scope a tree of names. */
export interface Meaning {
  readonly type: ValueType;
  /** Read from the running model … */
  readonly source?: Source;
  /** … or known beforehand. */
  readonly constant?: number;
  /** … or the row that is looked at just now. */
  readonly local?: () => number;
  readonly table?: TableSource;
  readonly family?: FamilySource;
  /** The values of a list that are known beforehand … */
  readonly list?: ListTerm;
  /** … or those for each row of a table, as if they were a column of it. */
  readonly ofRows?: { readonly table: TableSource; readonly column: ColumnSource };
  /** It stands for something that cannot be read, which is told where that is. */
  readonly isBroken?: boolean;
  readonly properties?: ReadonlyMap<string, Meaning>;
}

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

/** The names that may be used in an expression, and the table its texts are interned in. */
export interface Scope {
  find(name: string): Meaning | undefined;
  names(): readonly string[];
  intern(text: string): number;
}

/** Names are matched by their letters and digits alone: `TicketLine` means the element "Ticket line". */
export const nameKey = (name: string): string =>
  name
    .normalize("NFC")
    .replace(/[^\p{L}\p{N}]/gu, "")
    .toLowerCase();

/** A scope of fixed names over a shared table of texts. */
export function makeScope(meanings: ReadonlyMap<string, Meaning>, intern: (text: string) => number): Scope {
  const byKey = new Map([...meanings].map(([name, meaning]) => [nameKey(name), meaning]));
  return { find: (name) => byKey.get(nameKey(name)), names: () => [...meanings.keys()], intern };
}

/** A scope in which some names stand for something else than in the one around it. */
export function within(scope: Scope, meanings: ReadonlyMap<string, Meaning>): Scope {
  const inner = makeScope(meanings, scope.intern);
  return {
    find: (name) => inner.find(name) ?? scope.find(name),
    names: () => [...inner.names(), ...scope.names()],
    intern: scope.intern,
  };
}

/** The candidate closest to a mistyped name, if one is close enough to be meant. */
export function closestName(name: string, candidates: readonly string[]): string | undefined {
  const wanted = nameKey(name);
  let best: string | undefined;
  let bestDistance = Math.max(1, Math.floor(wanted.length / 3)) + 1;
  for (const candidate of candidates) {
    const distance = editDistance(wanted, nameKey(candidate));
    if (distance < bestDistance) [best, bestDistance] = [candidate, distance];
  }
  return best;
}

/** Levenshtein distance (1966) by one row of the table. */
function editDistance(a: string, b: string): number {
  const row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    let diagonal = row[0];
    row[0] = i;
    for (let j = 1; j <= b.length; j++) {
      const cost = Math.min(row[j] + 1, row[j - 1] + 1, diagonal + (a[i - 1] === b[j - 1] ? 0 : 1));
      diagonal = row[j];
      row[j] = cost;
    }
  }
  return row[b.length];
}
