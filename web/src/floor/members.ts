import { type Design, type Study, unfold, type Unfolded } from "@busy-harbor/core";
import { useMemo } from "react";
import { remembered } from "../state/remembered.ts";

/** A design as it is drawn: with every member of its families, and the links of each. */
export const drawnDesign = (study: Study, design: Design): Design => unfold(study, design).design;

/** What stands on the floor for what the document has: several things where it is a family, or leads to one. */
interface Drawing {
  /** By the id of what is drawn: the id of what it is drawn for, where that is another. */
  readonly owners: ReadonlyMap<string, string>;
  readonly drawn: ReadonlyMap<string, readonly string[]>;
}

const drawingOf = remembered((unfolded: Unfolded): Drawing => {
  const owners = new Map<string, string>();
  const drawn = new Map<string, string[]>();
  const add = (id: string, owner: string) => {
    owners.set(id, owner);
    const known = drawn.get(owner);
    if (known) known.push(id);
    else drawn.set(owner, [id]);
  };
  for (const [id, { family }] of unfolded.members) add(id, family.id);
  for (const [id, owner] of unfolded.linkOwners) add(id, owner);
  return { owners, drawn };
});

/** A design as it is drawn, and what of it stands for what of the document. */
export function useDrawn(study: Study, design: Design) {
  const unfolded = useMemo(() => unfold(study, design), [study, design]);
  return useMemo(() => {
    const { owners, drawn } = drawingOf(unfolded);
    return {
      design: unfolded.design,
      /** The element or link of the document that something is drawn for. */
      ownerOf: (id: string): string => owners.get(id) ?? id,
      isMember: (id: string): boolean => owners.has(id),
      /** Ids of what is drawn for things of the document. */
      drawnFor: (ids: ReadonlySet<string>): ReadonlySet<string> =>
        drawn.size === 0 ? ids : new Set([...ids].flatMap((id) => drawn.get(id) ?? [id])),
    };
  }, [unfolded]);
}
