import { type Element, type ElementKindName, kindOf, type Link, type Point } from "@busy-harbor/core";
import { gridStep, snap, toFloor } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { addElement, addLink, connectRefusal, isResource, setNeed } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { selected } from "./selection.ts";

/** Puts a new element of a kind down at a point of the screen, on the grid, and selects it. */
export function putDown(kind: ElementKindName, screen: Point): Element | undefined {
  const { view, size } = useView.getState();
  const { changeDesign, select } = useStudy.getState();
  let made: Element | undefined;
  changeDesign(
    `Add ${kindOf({ kind }).label.toLowerCase()}`,
    (d) => void (made = { ...addElement(d, kind, snap(toFloor(view, size, screen), gridStep(view))) }),
  );
  if (!made) return undefined;
  select([made.id]);
  announce(`${made.name} placed.`);
  return made;
}

/** The same, and links it from another element where entities can come in. */
export function addAt(kind: ElementKindName, screen: Point, from?: string): void {
  const source = from && selected()?.design.elements.find((e) => e.id === from);
  const made = putDown(kind, screen);
  if (source && made && kindOf({ kind }).hasWayIn)
    useStudy.getState().changeDesign(`Link ${source.name}`, (d) => void addLink(d, source.id, made.id));
}

/** Links two elements; from a resource, has work at the other need it. Says why where that cannot be. */
export function linkTo(from: string, to: string): void {
  const elements = selected()?.design.elements;
  const [a, b] = [from, to].map((id) => elements?.find((e) => e.id === id));
  if (!a || !b) return;
  const refusal = connectRefusal(a, b);
  if (refusal) {
    announce(refusal, true);
    return;
  }
  const { changeDesign, select } = useStudy.getState();
  if (isResource(a)) {
    changeDesign(`${b.name} needs ${a.name}`, (d) => {
      const station = d.elements.find((e) => e.id === to);
      if (station && "needs" in station && !station.needs.some((n) => n.anyOf.includes(from)))
        setNeed(station, from, "1");
    });
    select([b.id]);
    announce(`Work at ${b.name} needs one of ${a.name}.`);
    return;
  }
  let made: Link | undefined;
  changeDesign(`Link ${a.name} to ${b.name}`, (d) => void (made = { ...addLink(d, from, to) }));
  if (made) select([made.id]);
  announce(`${a.name} linked to ${b.name}.`);
}
