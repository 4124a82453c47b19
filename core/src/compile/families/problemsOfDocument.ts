import type { Problem } from "../../document/problem.ts";
import type { Families } from "../../model/model.ts";

/**
 * Problems as the document has what they are about: those of members are their family's, told once however many
 * members have it. `design` is the design's place in the study.
 */
export function problemsOfDocument(problems: readonly Problem[], families: Families, design: number): Problem[] {
  if (families.none) return [...problems];
  const told = new Map<string, { readonly problem: Problem; readonly members: Set<string> }>();
  for (const problem of problems) {
    const { member, ...mapped } = toDocument(problem, families, design);
    const key = JSON.stringify([mapped.code, mapped.id, mapped.field, mapped.message, mapped.start]);
    const known = told.get(key);
    const members = known?.members ?? new Set();
    if (member !== undefined) members.add(member);
    if (!known) told.set(key, { problem: mapped, members });
  }
  return [...told.values()].map(({ problem, members }) => {
    if (members.size === 0) return problem;
    const [first] = members;
    const where = members.size === 1 ? `member ${first}` : `${members.size} members, ${first} among them`;
    return { ...problem, message: `${problem.message} (${where})` };
  });
}

function toDocument(problem: Problem, families: Families, design: number): Problem & { readonly member?: string } {
  const [root, at, list, index, ...rest] = problem.path;
  if (root !== "designs" || at !== design || typeof index !== "number") return problem;
  if (list === "elements") {
    const member = problem.id === undefined ? undefined : families.memberOf(problem.id);
    return {
      ...problem,
      path: [root, at, list, families.elementAt(index), ...rest],
      ...(member && { id: member.family.id, member: member.key }),
    };
  }
  if (list === "entityTypes") {
    const row = problem.id === undefined ? undefined : families.typeRowOf(problem.id);
    return {
      ...problem,
      path: [root, at, list, families.typeAt(index), ...rest],
      ...(row && { id: row.type, member: String(row.row + 1) }),
    };
  }
  if (list !== "links") return problem;
  const of = families.linkAt(index);
  return { ...problem, path: [root, at, list, of, ...rest], id: families.linkIdAt(of) ?? problem.id };
}
