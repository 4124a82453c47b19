import { nameKey } from "../../expression/index.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import { type Node, streamOf } from "../../model/model.ts";
import { rowTaker } from "./nextArrival.ts";
import type { Arrivals } from "./settings.ts";

/** Makes an entity that goes on at a step; -1 when there are too many. */
export type Birth = (pc: number) => number;

/** Makes an entity of the type, or of one drawn from the mix, with the attributes given here. */
export function birth(node: Node<Arrivals>, lowering: Lowering): Birth {
  const { element } = node;
  const { model, kernel, population, expressions } = lowering;
  const { mix, sets, entityType } = element;
  const takeRow = rowTaker(node, lowering);
  const typeOf = (id: string) => model.types.findIndex(({ type }) => type.id === id);
  const bear = node.settings.has("typeOf")
    ? birthByRow(node, lowering)
    : mix.length > 1
      ? birthOfMix(
          node,
          lowering,
          mix.map((m) => population.birth(typeOf(m.entityType))),
        )
      : population.birth(typeOf(mix.length === 0 ? entityType : mix[0].entityType));
  const given = sets.flatMap(({ id, attribute: name }) => {
    const slot = model.attributeSlots.get(nameKey(name));
    return slot === undefined ? [] : [{ slot, value: expressions.read(node, `sets.${id}.value`, 0) }];
  });
  const tell = lowering.events.teller(element.id, "arrives");
  if (given.length === 0 && !tell && !takeRow) return bear;
  const { pool } = kernel;
  return (pc) => {
    if (takeRow && !takeRow()) return -1;
    const token = bear(pc);
    if (token < 0) return token;
    for (const { slot, value: read } of given) pool.attributes[token * model.attributeCount + slot] = read(token);
    if (tell) tell(token);
    return token;
  };
}

/** Makes an entity of the type that the row at hand says. */
function birthByRow(node: Node<Arrivals>, { model, population, expressions }: Lowering): Birth {
  const births = model.types.map((_, type) => population.birth(type));
  const typeOf = expressions.read(node, "typeOf", -1);
  return (pc) => births[typeOf(-1)]?.(pc) ?? -1;
}

/** Makes an entity of a type drawn by the shares of the mix, which are weighed against their sum. */
function birthOfMix(node: Node<Arrivals>, { kernel, expressions }: Lowering, births: readonly Birth[]): Birth {
  const { element } = node;
  const shares = element.mix.map((m) => expressions.read(node, `mix.${m.id}.share`, 0));
  const uniform = expressions.uniform(streamOf(element, "mix"));
  const weights = new Float64Array(shares.length);
  return (pc) => {
    let sum = 0;
    for (let i = 0; i < weights.length; i++) sum += weights[i] = shares[i](-1);
    if (!(sum > 0 && sum < Infinity)) {
      kernel.fail({
        code: "bad-share",
        message: `The shares of the entity types at ${element.name} came to ${sum}.`,
        hint: "Give at least one of them a share above 0.",
        id: element.id,
        field: "mix",
        value: sum,
      });
      return -1;
    }
    let left = uniform() * sum;
    for (let i = 0; i < weights.length - 1; i++) {
      left -= weights[i];
      if (left < 0) return births[i](pc);
    }
    return births[weights.length - 1](pc);
  };
}
