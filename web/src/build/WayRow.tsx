import type { Design, Element, Link, Problem } from "@busy-harbor/core";
import { useStudy } from "../state/study.ts";
import { TextRow } from "./fields.tsx";
import { wayField } from "./ways.ts";

const KINDS: Readonly<Record<Exclude<Link["kind"], "timed">, string>> = {
  direct: "direct",
  walkway: "walkway",
  ways: "over the ways",
  carried: "carried",
  conveyor: "conveyor",
  escorted: "escorted",
};

/** A way out of an element on its card: what is set on it, or where it leads. */
export function WayRow({
  link,
  design,
  element,
  problems,
  onSelect,
}: {
  link: Link;
  design: Design;
  element: Element;
  problems: readonly Problem[];
  onSelect: () => void;
}) {
  const { changeDesign } = useStudy();
  const target = design.elements.find((e) => e.id === link.to)?.name ?? "nowhere";
  const [field, placeholder] = wayField(element) ?? [];
  const several = design.links.filter((l) => l.from === link.from && l.takes === "done").length > 1;
  const onChange = (value: string) =>
    changeDesign(
      `Change ${field} to ${target}`,
      (d) => {
        const changed = d.links.find((l) => l.id === link.id);
        if (changed && field) changed[field] = value;
      },
      `${link.id}/${field}`,
    );
  if (several && field) {
    return (
      <TextRow
        name={`${field}-${link.id}`}
        label={target}
        expression={{ entity: true }}
        value={link[field]}
        placeholder={placeholder}
        problems={problems.filter((p) => p.field === field)}
        onChange={onChange}
      />
    );
  }
  return (
    <div className="flex items-center justify-between py-0.5">
      <button className="rounded px-1 text-action underline-offset-2 hover:underline" onClick={onSelect}>
        {target}
      </button>
      <span className="text-soft">{link.kind === "timed" ? link.time : KINDS[link.kind]}</span>
    </div>
  );
}
