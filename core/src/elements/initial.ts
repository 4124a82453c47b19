import type { DesignOf } from "../document/design.ts";
import type { ElementBase } from "../document/element.ts";
import type { Node } from "../model/model.ts";
import { count, reference, rows, type ValuesOf } from "../settings/setting.ts";
import type { Report } from "./kind.ts";
import type { Lowering } from "../lowering/lowering.ts";

/** Entities that are in a queue or station when a replication starts. */
export const INITIAL = {
  initial: rows(
    "There at the start",
    "Entities that are there when a replication starts: they come in at that instant.",
    {
      one: "entity type",
      told: "what is there at the start",
      many: false,
      most: 100,
      row: {
        entityType: reference("entity type", "Entity type", "The entity type that is there.", { first: true }),
        count: count("How many", "Entities that are there when a replication starts.", [0, 1e6], {
          initial: "1",
          fixed: true,
        }),
      },
    },
  ),
};

type WithInitial = ElementBase & ValuesOf<typeof INITIAL>;

export function checkInitial({ initial }: WithInitial, report: Report, design: DesignOf): void {
  for (const { id, entityType } of initial)
    if (!design.entityTypes.some((type) => type.id === entityType))
      report(
        "missing-entity-type",
        `initial.${id}.entityType`,
        "what is there at the start is no entity type.",
        "Choose an entity type on its card.",
      );
}

/** The entity types that are there at the start, by index. */
export const initialTypes = (
  { element }: Pick<Node<WithInitial>, "element">,
  indexOf: (typeId: string) => number | undefined,
): number[] => element.initial.flatMap(({ entityType }) => indexOf(entityType) ?? []);

/** Has those that are there at the start come in whenever a replication begins, as far as there is room. */
export function comeInAtStart(node: Node<WithInitial>, lowering: Lowering): void {
  const { element, index, settings } = node;
  if (element.initial.length === 0) return;
  const { kernel, model, network, population, presence } = lowering;
  const groups = element.initial.map(({ id, entityType }) => ({
    bear: population.birth(model.types.findIndex((t) => t.type.id === entityType)),
    count: settings.get(`initial.${id}.count`)?.constant ?? 0,
  }));
  const room = network.roomOf(index);
  lowering.replication.fill(() => {
    for (const { bear, count } of groups) {
      for (let i = 0; i < count; i++) {
        if (room && !room.tryClaim()) {
          kernel.fail({
            code: "no-room-at-start",
            message: `More are in ${element.name} at the start than it has room for.`,
            hint: "Let fewer be there, or give it more room.",
            id: element.id,
            field: "initial",
          });
          return;
        }
        presence.come(index);
        if (bear(network.entries[index]) < 0) return;
      }
    }
  });
}
