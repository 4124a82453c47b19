import { rows, settings } from "../../settings/setting.ts";
import { name, target, anyValue } from "../fields.ts";
import { stepKind } from "../kind.ts";

/** Sets one value or many, in their order. */
export const set = stepKind({
  kind: "set",
  label: "Set",
  group: "values",
  help: "Gives new values to attributes of the entity or of elements, to variables, and to names of this procedure; each in its turn.",
  example: "Set entity.joined to clock; Loads to Loads + 1",
  sentence: "Set {values}",
  settings: settings({
    values: rows("Values", "What is set, and to what.", {
      one: "value",
      most: 60,
      row: {
        what: target("What", "An attribute, a variable, or a name of this procedure, such as entity.joined or Loads."),
        to: anyValue("To", "Its new value.", { like: "what", draws: 300 }),
      },
      fresh: () => ({}),
    }),
  }),
  lower(step, { lowering: { kernel }, next, write, read }) {
    const sets = (step.step as unknown as { values: { id: string }[] }).values.map(({ id }) => ({
      write: write(step, `values.${id}.what`),
      value: read(step, `values.${id}.to`),
    }));
    const [first] = sets;
    if (sets.length === 1)
      return kernel.emit((token) => {
        first.write(token, first.value(token));
        return next;
      });
    return kernel.emit((token) => {
      for (let i = 0; i < sets.length; i++) sets[i].write(token, sets[i].value(token));
      return next;
    });
  },
});

/** Gives a value a name of this procedure, from here on. */
export const remember = stepKind({
  kind: "let",
  label: "Call a value by a name",
  group: "values",
  help: "A name for a value, which the steps after it know and may set. Each run of the procedure has values of its own.",
  example: "Let started be clock",
  sentence: "Let {name} be {value}",
  settings: settings({
    name: name("Name", "A name of this procedure, such as started."),
    value: anyValue("Value", "What it stands for at first.", { draws: 301 }),
  }),
  declares: [{ field: "name", of: "value" }],
  lower(step, { lowering: { kernel }, next, read, locals }) {
    const value = read(step, "value");
    const slot = step.slots.get("name")!;
    return kernel.emit((token) => {
      locals.write(token, slot, value(token));
      return next;
    });
  },
});
