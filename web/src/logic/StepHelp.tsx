import { STEP_GROUPS, stepKindOf, stepKinds } from "@busy-harbor/core";
import { useState } from "react";

/** What the step at hand does, with an example; and all others, found by typing. */
export function StepHelp({ kind }: { kind: string | undefined }) {
  const [sought, setSought] = useState("");
  const shown = kind === undefined ? undefined : stepKindOf({ do: kind });
  const text = sought.trim().toLowerCase();
  const found = stepKinds.filter(
    ({ label, help, example }) => text !== "" && `${label} ${help} ${example}`.toLowerCase().includes(text),
  );
  return (
    <section aria-label="Help">
      <h3 className="caps pb-1">Steps</h3>
      <input
        className="field mb-2"
        type="search"
        placeholder="Search the help …"
        aria-label="Search the help"
        value={sought}
        onChange={(event) => setSought(event.target.value)}
      />
      {text !== "" ? (
        found.length > 0 ? (
          found.map((one) => <Entry key={one.kind} kind={one.kind} />)
        ) : (
          <p className="text-xs text-soft">No step speaks of that.</p>
        )
      ) : shown ? (
        <Entry kind={shown.kind} />
      ) : (
        <p className="text-xs text-soft">
          Press Enter or / in a line to add a step, Tab to put it under the one before, Alt and the arrows to move it.
        </p>
      )}
    </section>
  );
}

function Entry({ kind }: { kind: string }) {
  const { label, help, example, group } = stepKindOf({ do: kind });
  return (
    <div className="pb-3">
      <p className="font-medium">{label}</p>
      <p className="text-xs text-soft">{STEP_GROUPS.find(([id]) => id === group)?.[1]}</p>
      <p className="pt-1 text-xs">{help}</p>
      <p className="mt-1 rounded bg-water px-2 py-1 text-xs italic">{example}</p>
    </div>
  );
}
