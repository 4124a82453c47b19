import { type Checked, type Design, dimensionSymbol, type Element, formatDuration, formatNumber, isNumber, kindOf, type Link, LINK_FIELDS, type Model, type Phrase, polylineLength, type Problem, readBack, type Study, WAYS_OUT, displayUnit, LENGTH } from "@busy-harbor/core";
import { ChevronDown, ChevronUp, Trash2 } from "lucide-react";
import { useState } from "react";
import { useCompiled } from "../state/compiled.ts";
import { remove } from "../state/edits.ts";
import { drawnLink, elementsById } from "../floor/paths.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { DesignCard } from "./DesignCard.tsx";
import { ChoiceRow, NameRow, Section, TextRow } from "./fields.tsx";
import { ProblemList } from "./ProblemList.tsx";

const WAY_OUT_LABELS: Readonly<Record<(typeof WAYS_OUT)[number], string>> = {
  share: "by share",
  "shortest line": "shortest line",
  "in turn": "in turn",
  "first free": "first with room",
  condition: "by condition",
};

/** The card of the selection: what it is, what it does in words, its settings and its problems. */
export function Card({ study, design }: { study: Study; design: Design }) {
  const [folded, setFolded] = useState(false);
  const selection = useStudy((s) => s.selection);
  const compilation = useCompiled();
  const elements = design.elements.filter((e) => selection.includes(e.id));
  const links = design.links.filter((l) => selection.includes(l.id));
  const count = elements.length + links.length;
  const problems = compilation?.problems ?? [];
  const title = count === 0 ? design.name : count > 1 ? `${count} selected` : (elements[0]?.name ?? linkName(design, links[0]));
  const kind = count === 0 ? "Design" : count > 1 ? "Several" : elements[0] ? kindOf(elements[0]).label : "Link";
  return (
    <aside aria-label="Card" data-testid="card" className="panel float flex max-h-full flex-col overflow-hidden">
      <header className="flex items-start justify-between px-4 pt-3 pb-2">
        <div className="min-w-0">
          <p className="text-soft">{kind}</p>
          <h2 className="truncate text-base" title={title}>{title}</h2>
        </div>
        <button className="button button-quiet -mr-2 text-soft" aria-expanded={!folded} onClick={() => setFolded(!folded)}>
          {folded ? <ChevronDown size={14} /> : <ChevronUp size={14} />} {folded ? "unfold" : "fold"}
        </button>
      </header>
      {!folded && (
        <div className="overflow-y-auto px-4 pb-3">
          {count === 0 && <DesignCard study={study} design={design} problems={problems} />}
          {count === 1 && elements[0] && <ElementCard key={elements[0].id} element={elements[0]} design={design} model={compilation?.model} problems={problems.filter((p) => p.id === elements[0].id)} allProblems={problems} />}
          {count === 1 && links[0] && <LinkCard key={links[0].id} link={links[0]} design={design} study={study} model={compilation?.model} problems={problems.filter((p) => p.id === links[0].id)} />}
          {count > 1 && <DeleteButton label={`Delete these ${count}`} ids={selection} />}
        </div>
      )}
    </aside>
  );
}

const linkName = (design: Design, link: Link) => {
  const name = (id: string) => design.elements.find((e) => e.id === id)?.name ?? "nowhere";
  return `${name(link.from)} to ${name(link.to)}`;
};

function Words({ phrases }: { phrases: readonly Phrase[] }) {
  return (
    <p data-testid="read-back" className="mb-2.5 rounded-md border-l-[3px] border-action bg-water px-3 py-2 leading-[1.5] wrap-anywhere">
      {phrases.map((p, i) => (typeof p === "string" ? p : <strong key={i} className="font-semibold">{p.strong}</strong>))}
    </p>
  );
}

/** What a checked setting yields, for the line under it. */
export function sampleOf(checked: Checked | undefined): string | undefined {
  if (!checked || checked.type.kind !== "number" || !checked.draws || checked.mean === undefined) return undefined;
  if (isNumber(checked.type.dimension)) return `mean ${formatNumber(checked.mean)}`;
  const symbol = dimensionSymbol(checked.type.dimension);
  return `mean ${symbol === "s" ? formatDuration(checked.mean, 3) : `${formatNumber(checked.mean)} ${symbol}`}`;
}

function ElementCard({ element, design, model, problems, allProblems }: { element: Element; design: Design; model: Model | undefined; problems: readonly Problem[]; allProblems: readonly Problem[] }) {
  const { changeDesign, select } = useStudy();
  const node = model?.nodes.find((n) => n.element.id === element.id);
  const set = (field: string, value: unknown, label: string) =>
    changeDesign(`Change ${label.toLowerCase()} of ${element.name}`, (d) => {
      const target = d.elements.find((e) => e.id === element.id);
      if (target) Object.assign(target, { [field]: value });
    }, `${element.id}/${field}`);
  const of = (field: string) => problems.filter((p) => p.field === field);
  const general = problems.filter((p) => p.field === undefined || p.field === "id");
  const ways = design.links.filter((l) => l.from === element.id);
  return (
    <>
      {node && model && <Words phrases={readBack(node, model)} />}
      {general.length > 0 && <ProblemList problems={general} />}
      <NameRow name="name" label="Name" value={element.name} problems={of("name")} onChange={(v) => set("name", v, "name")} />
      {element.kind !== "departures" && (
        <Section title={element.kind === "arrivals" ? "Arrive" : element.kind === "queue" ? "Line" : "Work"}>
          {element.kind === "arrivals" && (
            <ChoiceRow
              name="entityType"
              label="Entity type"
              value={element.entityType}
              choices={[...(design.entityTypes.some((t) => t.id === element.entityType) ? [] : [[element.entityType, "choose …"] as const]), ...design.entityTypes.map((t) => [t.id, t.name] as const)]}
              problems={of("entityType")}
              onChange={(v) => set("entityType", v, "entity type")}
            />
          )}
          {kindOf(element).fields.map((field) => (
            <TextRow
              key={field.name}
              name={field.name}
              label={field.label}
              help={field.help}
              placeholder={field.optional ? field.help : undefined}
              value={String((element as unknown as Record<string, unknown>)[field.name] ?? "")}
              suggestions={field.words}
              problems={of(field.name)}
              sample={sampleOf(node?.settings.get(field.name))}
              onChange={(v) => set(field.name, v, field.label)}
            />
          ))}
          {(element.kind === "queue" || element.kind === "station") && (
            <ChoiceRow
              name="whenFull"
              label="When full"
              value={element.whenFull}
              choices={[["wait", "wait at the place before"], ["lose", "leave the system, lost"]]}
              problems={of("whenFull")}
              onChange={(v) => set("whenFull", v, "when full")}
            />
          )}
        </Section>
      )}
      {"wayOut" in element && (
        <Section title="Way out">
          {ways.length > 1 && (
            <ChoiceRow name="wayOut" label="Choose" value={element.wayOut} choices={WAYS_OUT.map((w) => [w, WAY_OUT_LABELS[w]] as const)} problems={of("wayOut")} onChange={(v) => set("wayOut", v, "way out")} />
          )}
          {ways.length === 0 && <p className="text-soft">None yet. Drag from its edge to another element, or press L.</p>}
          {ways.map((link) => (
            <WayRow key={link.id} link={link} design={design} element={element} problems={allProblems.filter((p) => p.id === link.id)} onSelect={() => select([link.id])} />
          ))}
        </Section>
      )}
      <DeleteButton label="Delete" ids={[element.id]} />
    </>
  );
}

function WayRow({ link, design, element, problems, onSelect }: { link: Link; design: Design; element: Element; problems: readonly Problem[]; onSelect: () => void }) {
  const { changeDesign } = useStudy();
  const target = design.elements.find((e) => e.id === link.to)?.name ?? "nowhere";
  const field = "wayOut" in element && element.wayOut === "condition" ? "condition" : "share";
  const several = design.links.filter((l) => l.from === link.from).length > 1;
  const editable = several && "wayOut" in element && (element.wayOut === "share" || element.wayOut === "condition");
  const onChange = (value: string) =>
    changeDesign(`Change ${field} to ${target}`, (d) => {
      const changed = d.links.find((l) => l.id === link.id);
      if (changed) changed[field] = value;
    }, `${link.id}/${field}`);
  if (editable) {
    return <TextRow name={`${field}-${link.id}`} label={target} value={link[field]} placeholder={field === "share" ? "even, or the rest" : "otherwise"} problems={problems.filter((p) => p.field === field)} onChange={onChange} />;
  }
  return (
    <div className="flex items-center justify-between py-0.5">
      <button className="rounded px-1 text-action underline-offset-2 hover:underline" onClick={onSelect}>{target}</button>
      <span className="text-soft">{link.kind === "direct" ? "direct" : link.kind === "timed" ? link.time : "walkway"}</span>
    </div>
  );
}

function LinkCard({ link, design, study, model, problems }: { link: Link; design: Design; study: Study; model: Model | undefined; problems: readonly Problem[] }) {
  const { changeDesign } = useStudy();
  const way = model?.ways.find((w) => w.link.id === link.id);
  const source = design.elements.find((e) => e.id === link.from);
  const set = (field: keyof Link, value: unknown) =>
    changeDesign(`Change ${field} of ${linkName(design, link)}`, (d) => {
      const target = d.links.find((l) => l.id === link.id);
      if (target) Object.assign(target, { [field]: value });
    }, `${link.id}/${field}`);
  const of = (field: string) => problems.filter((p) => p.field === field);
  const points = drawnLink(design, link, elementsById(design));
  const { symbol, factor } = displayUnit(LENGTH, study.units);
  const drawn = `${formatNumber(polylineLength(points ?? []) / factor)} ${symbol}`;
  const general = problems.filter((p) => p.field === undefined || p.field === "from" || p.field === "to");
  return (
    <>
      {general.length > 0 && <ProblemList problems={general} />}
      <ChoiceRow name="kind" label="Kind" value={link.kind} choices={[["direct", "direct, no time"], ["timed", "timed"], ["walkway", "walkway"]]} problems={[]} onChange={(v) => set("kind", v)} />
      {link.kind === "timed" && <TextRow name="time" label="Time" help={LINK_FIELDS.time.help} value={link.time} problems={of("time")} sample={sampleOf(way?.settings.get("time"))} onChange={(v) => set("time", v)} />}
      {link.kind === "walkway" && (
        <TextRow name="length" label="Length" help={LINK_FIELDS.length.help} placeholder={`${drawn}, as drawn`} value={link.length} problems={of("length")} sample={`drawn ${drawn}; walked at the entity type's speed`} onChange={(v) => set("length", v)} />
      )}
      {source && "wayOut" in source && source.wayOut === "share" && <TextRow name="share" label="Share" help={LINK_FIELDS.share.help} placeholder="even, or the rest" value={link.share} problems={of("share")} onChange={(v) => set("share", v)} />}
      {source && "wayOut" in source && source.wayOut === "condition" && <TextRow name="condition" label="Condition" help={LINK_FIELDS.condition.help} placeholder="otherwise" value={link.condition} problems={of("condition")} onChange={(v) => set("condition", v)} />}
      <p className="py-1.5 text-xs text-soft">Drag the line to bend it; double-click a bend to take it out.</p>
      <DeleteButton label="Delete" ids={[link.id]} />
    </>
  );
}

function DeleteButton({ label, ids }: { label: string; ids: readonly string[] }) {
  const { changeDesign, undo } = useStudy();
  return (
    <div className="border-t border-line pt-2.5">
      <button
        className="button"
        onClick={() => {
          changeDesign("Delete", (d) => remove(d, new Set(ids)));
          announce("Deleted.", false, { label: "Undo", run: undo });
        }}
      >
        <Trash2 size={14} /> {label}
      </button>
    </div>
  );
}
