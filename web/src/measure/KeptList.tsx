import { measureRegistry, type Study } from "@busy-harbor/core";
import { X } from "lucide-react";
import { useStudy } from "../state/study.ts";

/** Measures that are kept one by one in runs from now on, each to be taken off. */
export function KeptList({ study }: { study: Study }) {
  const change = useStudy((s) => s.change);
  const kept = study.run.kept ?? [];
  if (kept.length === 0) return null;
  return (
    <div className="py-1" data-testid="kept-list">
      <p className="text-soft">Kept one by one</p>
      <ul>
        {kept.map((id) => {
          const name = nameOfKept(study, id);
          return (
            <li key={id} className="flex items-center gap-1.5">
              <span className="min-w-0 grow truncate" data-tip={name}>
                {name}
              </span>
              <button
                className="rounded p-0.5 text-soft hover:text-ink"
                aria-label={`Keep ${name} no more`}
                onClick={() =>
                  change(`Keep ${name} no more`, (s) => {
                    const left = (s.run.kept ?? []).filter((other) => other !== id);
                    s.run.kept = left.length > 0 ? left : undefined;
                  })
                }
              >
                <X size={13} />
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}

/** Whose and what is kept, by its id; the id itself where no design has it any more. */
export function nameOfKept({ designs }: Study, id: string): string {
  // Ids of members have a stroke of their own.
  for (let at = id.indexOf("/"); at > 0; at = id.indexOf("/", at + 1)) {
    const owner = id.slice(0, at);
    const [measure, each] = partedOnce(id.slice(at + 1), ".");
    for (const { elements, entityTypes, links, measures } of designs) {
      const found = [
        ...elements.map((e) => [e.kind as string, e] as const),
        ...entityTypes.map((t) => ["entity type", t] as const),
        ...links.map((l) => ["link", { ...l, name: "a link" }] as const),
        ...measures.map((m) => [m.kind === "group" ? "group" : "custom", m] as const),
      ].find(([kind, one]) => {
        const isMember = kind !== "group" && owner.startsWith(`${one.id}/`);
        return (one.id === owner || isMember) && measureRegistry.get(kind)?.[measure] !== undefined;
      });
      if (!found) continue;
      const [kind, one] = found;
      const of = entityTypes.find((type) => type.id === each);
      const member = owner === one.id ? "" : ` ${owner.slice(one.id.length + 1)}`;
      return `${one.name}${member}: ${measureRegistry.get(kind)![measure].label}${of ? ` of ${of.name}` : ""}`;
    }
  }
  return id;
}

function partedOnce(text: string, by: string): readonly [string, string] {
  const at = text.indexOf(by);
  return at < 0 ? [text, ""] : [text.slice(0, at), text.slice(at + 1)];
}
