import { Trash2 } from "lucide-react";
import { setNeed } from "../../state/edits.ts";
import { useStudy } from "../../state/study.ts";
import { ChoiceRow, KeptInput, Section } from "../fields.tsx";
import type { Kit } from "./kit.tsx";

const anything = (text: string): string | undefined => text.trim() || undefined;

/** Who needs a resource, from its own end. */
export function NeededBy({ kit }: { kit: Kit }) {
  const { element, design } = kit;
  const { changeDesign, select } = useStudy.getState();
  const stations = design.elements.filter((e) => "needs" in e);
  const users = stations.filter((s) => s.needs.some((n) => n.anyOf.includes(element.id)));
  const repairs = design.elements.filter(
    (e) => "breakdowns" in e && e.breakdowns.some((b) => b.anyOf.includes(element.id)),
  );
  const set = (id: string, name: string, count: string) =>
    changeDesign(
      `Change how many of ${element.name} ${name} needs`,
      (d) => {
        const station = d.elements.find((e) => e.id === id);
        if (station && "needs" in station) setNeed(station, element.id, count);
      },
      `${id}/needs/${element.id}`,
    );
  if (stations.length + repairs.length === 0) return null;
  return (
    <Section title="Needed by">
      {users.map((s) => {
        const need = s.needs.find((n) => n.anyOf.includes(element.id))!;
        return (
          <div key={s.id} className="grid grid-cols-[1fr_76px_16px] items-center gap-2 py-0.5">
            <button
              className="truncate rounded px-1 text-left text-action underline-offset-2 hover:underline"
              onClick={() => select([s.id])}
            >
              {s.name}
              {need.phases.join() === "work" ? "" : `, ${need.phases.join(", ")}`}
              {need.anyOf.length > 1 ? ", or another" : ""}
            </button>
            <KeptInput
              label={`How many ${s.name} needs`}
              shown={need.count}
              read={anything}
              wanted="How many?"
              onChange={(count) => set(s.id, s.name, count)}
            />
            <button className="text-soft" aria-label={`Not at ${s.name}`} onClick={() => set(s.id, s.name, "")}>
              <Trash2 size={13} />
            </button>
          </div>
        );
      })}
      {repairs.map((r) => (
        <p key={r.id} className="flex justify-between py-0.5">
          <button
            className="rounded px-1 text-action underline-offset-2 hover:underline"
            onClick={() => select([r.id])}
          >
            {r.name}
          </button>
          <span className="text-soft">repairs</span>
        </p>
      ))}
      {stations.length > users.length && (
        <ChoiceRow
          name="neededBy"
          label={users.length === 0 ? "Work at" : "And at"}
          value=""
          choices={[
            ["", "choose …"],
            ...stations.filter((s) => !users.includes(s)).map((s) => [s.id, s.name] as const),
          ]}
          problems={[]}
          onChange={(id) => id && set(id, stations.find((s) => s.id === id)!.name, "1")}
        />
      )}
    </Section>
  );
}
