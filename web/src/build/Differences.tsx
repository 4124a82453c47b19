import { type Design, type Difference, differences, type Study, takeOver } from "@busy-harbor/core";
import { useMemo, useState } from "react";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { Section } from "./fields.tsx";
import { Choice } from "../ui/Choice.tsx";

/** Differences shown before all are asked for. */
const AT_FIRST = 8;

/** How this design differs from another, in sentences, each of which can be taken over into the other. */
export function Differences({ study, design }: { study: Study; design: Design }) {
  const { change, select } = useStudy();
  const others = study.designs.filter((d) => d.id !== design.id);
  const [chosen, setChosen] = useState<string>();
  const [all, setAll] = useState(false);
  const other = others.find((d) => d.id === chosen) ?? others.find((d) => d.id === design.copiedFrom) ?? others[0];
  const found = useMemo(
    () => (other ? differences(other, design, study.variables) : []),
    [other, design, study.variables],
  );
  if (!other) return null;
  const give = (difference: Difference) => {
    change(`Take over into ${other.name}`, (s) => {
      const [source, target] = [design, s.designs.find((d) => d.id === other.id)];
      if (target) takeOver(difference, source, target);
    });
    announce(`${other.name} has it now too.`, false, { label: "Undo", run: () => useStudy.getState().undo() });
  };
  return (
    <Section title="Differs from">
      <Choice
        label="Design to compare with"
        className="mb-1.5"
        value={other.id}
        options={others.map((d) => ({ value: d.id, label: d.name }))}
        onChange={setChosen}
      />
      {found.length === 0 && <p className="text-soft">In nothing that is run or drawn.</p>}
      <ul data-testid="differences">
        {found.slice(0, all ? undefined : AT_FIRST).map((d) => (
          <li key={d.key} className="flex items-start justify-between gap-2 py-0.5">
            <button className="min-w-0 text-left wrap-anywhere hover:text-action" onClick={() => select([d.id])}>
              {d.sentence}
            </button>
            <button
              className="shrink-0 text-action underline-offset-2 hover:underline"
              data-tip={`Makes ${other.name} the same in this`}
              onClick={() => give(d)}
            >
              take over
            </button>
          </li>
        ))}
      </ul>
      {found.length > AT_FIRST && !all && (
        <button className="text-action" onClick={() => setAll(true)}>
          All {found.length} differences
        </button>
      )}
    </Section>
  );
}
