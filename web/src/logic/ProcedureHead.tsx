import { type Parameter, parameterSchema, type ProcedureOf, type Study } from "@busy-harbor/core";
import { Plus, X } from "lucide-react";
import { newId } from "../state/edits.ts";
import { Choice } from "../ui/Choice.tsx";
import { isRule, type Owner } from "./edits.ts";

const KINDS: ReadonlyArray<{ readonly value: Parameter["is"]; readonly label: string }> = [
  { value: "number", label: "a number" },
  { value: "text", label: "a text" },
  { value: "yes or no", label: "yes or no" },
  { value: "element", label: "an element" },
  { value: "entity type", label: "an entity type" },
  { value: "row", label: "a row of a table" },
];

/** What a procedure asks for: each with a name and what it is. */
export function ProcedureHead({
  procedure,
  study,
  edit,
}: {
  procedure: ProcedureOf;
  study: Study;
  edit: (what: string, key: string, recipe: (owner: Owner) => void) => void;
}) {
  const change = (key: string, recipe: (parameters: Parameter[]) => void) =>
    edit("Change what a procedure asks for", `parameters/${key}`, (owner) => {
      if (!isRule(owner)) recipe(owner.parameters);
    });
  const write = (id: string, values: Partial<Parameter>) =>
    change(`${id}/${Object.keys(values).join()}`, (all) => {
      const parameter = all.find((one) => one.id === id);
      if (parameter) Object.assign(parameter, values);
    });
  return (
    <div className="grid grid-cols-[104px_1fr] items-start gap-x-3 py-1">
      <span className="pt-1 text-soft" data-tip="Values that those who call it give it, under these names">
        Asks for
      </span>
      <div className="flex flex-col gap-1">
        {procedure.parameters.map(({ id, name, is, unit, table }) => (
          <div key={id} className="flex items-center gap-2">
            <input
              className="field mono w-36!"
              aria-label="Name of a parameter"
              value={name}
              maxLength={80}
              spellCheck={false}
              onChange={(event) => event.target.value.trim() !== "" && write(id, { name: event.target.value })}
            />
            <Choice
              className="w-40!"
              label={`What ${name} is`}
              value={is}
              options={KINDS}
              onChange={(next) => write(id, { is: next })}
            />
            {is === "number" && (
              <input
                className="field mono w-24!"
                aria-label={`Unit of ${name}`}
                placeholder="unit, or none"
                value={unit}
                maxLength={40}
                onChange={(event) => write(id, { unit: event.target.value })}
              />
            )}
            {is === "row" && (
              <Choice
                className="w-40!"
                label={`Table of ${name}`}
                value={table}
                options={study.tables.map((t) => ({ value: t.id, label: t.name }))}
                onChange={(next) => write(id, { table: next })}
              />
            )}
            <button
              className="text-soft"
              aria-label={`Delete parameter ${name}`}
              onClick={() =>
                change(
                  `delete/${id}`,
                  (all) =>
                    void all.splice(
                      all.findIndex((p) => p.id === id),
                      1,
                    ),
                )
              }
            >
              <X size={13} />
            </button>
          </div>
        ))}
        <button
          className="button self-start"
          onClick={() =>
            change(`add/${procedure.parameters.length}`, (all) => {
              const names = new Set(all.map(({ name }) => name));
              const name = ["amount", "limit", "value"].find((one) => !names.has(one)) ?? `value${all.length + 1}`;
              all.push(parameterSchema.parse({ id: newId("parameter"), name }));
            })
          }
        >
          <Plus size={14} /> Parameter
        </button>
      </div>
    </div>
  );
}
