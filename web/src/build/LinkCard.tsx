import {
  AMONG,
  type Among,
  type Design,
  type Link,
  LINK_SETTINGS,
  mayCountOtherwise,
  type Model,
  polylineLength,
  type Problem,
  type Study,
  displayUnit,
  formatNumber,
  LENGTH,
} from "@busy-harbor/core";
import { drawnLinks } from "../floor/paths.ts";
import { useStudy } from "../state/study.ts";
import { ConveyorRows } from "./ConveyorRows.tsx";
import { DeleteButton } from "./DeleteButton.tsx";
import { ChoiceRow, TextRow } from "./fields.tsx";
import { ProblemList } from "./ProblemList.tsx";
import { sampleOf } from "./settings/sample.ts";
import { asideOf, ESCORT_WORDS, linkName, takersAlong, TAKES, wayField } from "./ways.ts";

const AMONG_LABELS: Readonly<Record<Among, string>> = {
  "shortest line": "the shortest line",
  "first free": "the first with room",
  "in turn": "each in turn",
  "at random": "any, at random",
  named: "one that is named",
  same: "the one with the same key",
};

/** A setting of a link as it is called in what was done. */
const labelOf = (field: string): string =>
  (LINK_SETTINGS as Readonly<Record<string, { readonly label: string }>>)[field]?.label.toLowerCase() ?? field;

/** The card of a link: whom it takes, how they go, and what chooses it. */
export function LinkCard({
  link,
  design,
  study,
  model,
  problems,
}: {
  link: Link;
  design: Design;
  study: Study;
  model: Model | undefined;
  problems: readonly Problem[];
}) {
  const { changeDesign } = useStudy();
  const way = model?.ways.find((w) => design.links[w.group]?.id === link.id);
  const target = design.elements.find((e) => e.id === link.to);
  const isFamily = target?.family !== undefined;
  const ofFamily = isFamily ? { family: target.id } : {};
  const source = design.elements.find((e) => e.id === link.from);
  const [field, placeholder] = (source && wayField(source)) ?? [];
  const set = (field: keyof Link, value: unknown) =>
    changeDesign(
      `Change ${labelOf(field)} of ${linkName(design, link)}`,
      (d) => {
        const target = d.links.find((l) => l.id === link.id);
        if (target) Object.assign(target, { [field]: value });
      },
      `${link.id}/${field}`,
    );
  const of = (field: string) => problems.filter((p) => p.field === field);
  const original = study.designs.find((d) => d.id === design.copiedFrom)?.links.find((l) => l.id === link.id);
  const was = (field: "takes" | "kind" | "time" | "length" | "share" | "condition" | "cost") =>
    original && original[field] !== link[field] ? original[field] : undefined;
  const points = drawnLinks(design).get(link.id);
  const { symbol, factor } = displayUnit(LENGTH, study.units);
  const drawn = `${formatNumber(polylineLength(points ?? []) / factor)} ${symbol}`;
  const general = problems.filter((p) => p.field === undefined || p.field === "from" || p.field === "to");
  return (
    <>
      {general.length > 0 && <ProblemList problems={general} />}
      {source && (asideOf(source).length > 0 || link.takes !== "done") && (
        <ChoiceRow
          name="takes"
          was={was("takes")}
          label="Takes"
          value={link.takes}
          choices={[
            ["done", asideOf(source).includes("parts") ? "the entity itself" : TAKES.done],
            ...asideOf(source).map((takes) => [takes, TAKES[takes]] as const),
            ...(link.takes === "done" || asideOf(source).includes(link.takes)
              ? []
              : [[link.takes, TAKES[link.takes]] as const]),
          ]}
          problems={of("takes")}
          onChange={(v) => set("takes", v)}
        />
      )}
      <ChoiceRow
        name="kind"
        was={was("kind")}
        label="Kind"
        value={link.kind}
        choices={[
          ["direct", "direct, no time"],
          ["timed", "timed"],
          ["walkway", "walkway of its own"],
          ["ways", "over the ways"],
          ["carried", "carried by vehicles"],
          ["conveyor", "conveyor"],
          ["escorted", "escorted by a crew"],
        ]}
        problems={of("kind")}
        onChange={(v) => set("kind", v)}
      />
      {(link.kind === "carried" || link.kind === "escorted") && (
        <ChoiceRow
          name="by"
          label="By"
          help={
            link.kind === "carried"
              ? "The vehicles that carry who goes along it. One who asks waits where the link begins until one has come."
              : "The crew of which one goes along with each. One who asks waits where the link begins until one has come."
          }
          value={link.by ?? ""}
          choices={[["", "choose"], ...takersAlong(design, link.kind).map((e) => [e.id, e.name] as const)]}
          problems={of("by")}
          onChange={(v) => set("by", v === "" ? undefined : v)}
        />
      )}
      {link.kind === "escorted" && (
        <ChoiceRow
          name="how"
          label="How"
          help="Beside it at the pace of the slower; pushed, or carried by two, at the pace of those who do that."
          value={link.how ?? "beside"}
          choices={ESCORT_WORDS}
          problems={of("how")}
          onChange={(v) => set("how", v === "beside" ? undefined : v)}
        />
      )}
      {link.kind === "ways" && way?.route && (
        <p className="py-1 text-xs text-soft" data-testid="route">
          {formatNumber(way.route.length / factor)} {symbol} over the walkways and roads that are drawn, the{" "}
          {link.quickestAt ? "quickest" : "shortest"} way
          {(design.roads ?? []).some(mayCountOtherwise) && " while none counts otherwise"}, at the entity type&apos;s
          speed or that which each allows.
        </p>
      )}
      {link.kind === "ways" && (
        <TextRow
          name="quickestAt"
          label={LINK_SETTINGS.quickestAt.label}
          help={LINK_SETTINGS.quickestAt.help}
          expression={{}}
          placeholder="the shortest way"
          value={link.quickestAt ?? ""}
          problems={of("quickestAt")}
          onChange={(v) => set("quickestAt", v === "" ? undefined : v)}
        />
      )}
      {link.kind === "timed" && (
        <TextRow
          name="time"
          was={was("time")}
          label="Time"
          help={LINK_SETTINGS.time.help}
          expression={{ entity: true, draws: LINK_SETTINGS.time.type, ...ofFamily }}
          value={link.time}
          problems={of("time")}
          sample={sampleOf(way?.settings.get("time"))}
          onChange={(v) => set("time", v)}
        />
      )}
      {(link.kind === "walkway" || link.kind === "conveyor") && (
        <TextRow
          name="length"
          was={was("length")}
          label="Length"
          help={LINK_SETTINGS.length.help}
          expression={ofFamily}
          placeholder={`${drawn}, as drawn`}
          value={link.length}
          problems={of("length")}
          sample={link.kind === "walkway" ? `drawn ${drawn}; walked at the entity type's speed` : `drawn ${drawn}`}
          onChange={(v) => set("length", v)}
        />
      )}
      {link.kind === "conveyor" && (
        <ConveyorRows link={link} study={study} original={original} problems={problems} set={set} />
      )}
      {isFamily && (
        <ChoiceRow
          name="among"
          label="To which"
          help="How an entity chooses among the members of the family."
          value={link.among ?? "shortest line"}
          choices={AMONG.filter((a) => a !== "same" || source?.family !== undefined || link.among === "same").map(
            (a) => [a, AMONG_LABELS[a]] as const,
          )}
          problems={of("among")}
          onChange={(v) => set("among", v)}
        />
      )}
      {isFamily && link.among === "named" && (
        <TextRow
          name="member"
          label={LINK_SETTINGS.member.label}
          help={LINK_SETTINGS.member.help}
          expression={{ entity: true }}
          placeholder={`${target.name}[1]`}
          value={link.member ?? ""}
          problems={of("member")}
          onChange={(v) => set("member", v)}
        />
      )}
      {link.takes === "done" && field && (
        <TextRow
          name={field}
          was={was(field)}
          label={LINK_SETTINGS[field].label}
          help={LINK_SETTINGS[field].help}
          expression={{ entity: true }}
          placeholder={placeholder}
          value={link[field]}
          problems={of(field)}
          onChange={(v) => set(field, v)}
        />
      )}
      {!isFamily && source?.family === undefined && (
        <p className="py-1.5 text-xs text-soft">Drag the line to bend it; double-click a bend to take it out.</p>
      )}
      <DeleteButton label="Delete" />
    </>
  );
}
