import { type Design, type Point, type Road, roadSchema } from "@busy-harbor/core";
import { create } from "zustand";
import { drawnRoad, type Joint, jointNear, roadsOf } from "../floor/roads.ts";
import { gridStep, snap, toFloor } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { newId, placed } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { selected } from "./selection.ts";

/** Pixels within which a point is joined to what is there. */
const REACH = 12;

interface LayingState {
  /** The kind of way that is being drawn, click after click; undefined where none is. */
  readonly kind: Road["kind"] | undefined;
  readonly joints: readonly Joint[];
  /** What the pointer is at. */
  readonly next: Joint | undefined;
}

export const useLaying = create<LayingState>(() => ({ kind: undefined, joints: [], next: undefined }));

export const ROAD_LABELS: Readonly<Record<Road["kind"], string>> = { walkway: "Walkway", road: "Road" };
/** Metres that new ones are wide. */
const WIDTHS: Readonly<Record<Road["kind"], number>> = { walkway: 2, road: 6 };

export function startLaying(kind: Road["kind"]): void {
  useLaying.setState({ kind, joints: [], next: undefined });
  announce(`Click the points of the ${kind}, one after another. Enter or a double click ends it, Backspace goes back.`);
}

/** What a point of the screen is meant to be joined to, or else a point of the grid. */
export function jointAt(screen: Point, isMeant?: (road: string) => boolean): Joint {
  const { view, size } = useView.getState();
  const free = toFloor(view, size, screen);
  const design = selected()?.design;
  const onGrid = placed(snap(free, gridStep(view)));
  const joint = design && jointNear(design, free, REACH / view.scale, isMeant);
  if (!design || !joint) return { at: onGrid };
  // Along a way the grid is kept to, where one of its points lies on the way.
  const atGrid = joint.on && jointNear(design, onGrid, 1e-6, isMeant);
  return atGrid ?? joint;
}

/** The pointer is somewhere while a way is drawn. */
export function layOver(screen: Point): void {
  if (useLaying.getState().kind) useLaying.setState({ next: jointAt(screen) });
}

/** Adds a point; one on an element ends the way, as it leads there. */
export function layPoint(screen: Point): void {
  const { joints } = useLaying.getState();
  const joint = jointAt(screen);
  const last = joints.at(-1);
  if (last && last.at[0] === joint.at[0] && last.at[1] === joint.at[1]) {
    endLaying();
    return;
  }
  useLaying.setState({ joints: [...joints, joint], next: undefined });
  if (joint.element !== undefined && joints.length > 0) endLaying();
}

/** Takes back the point laid last; false where none is being laid. */
export function unlayPoint(): boolean {
  const { kind, joints } = useLaying.getState();
  if (!kind) return false;
  useLaying.setState({ joints: joints.slice(0, -1) });
  return true;
}

/** Ends the way: what has been drawn of it stays. False where none is being drawn. */
export function endLaying(): boolean {
  const { kind, joints } = useLaying.getState();
  if (!kind) return false;
  useLaying.setState({ kind: undefined, joints: [], next: undefined });
  if (joints.length > 1) addRoad(kind, joints);
  else if (joints.length === 1) announce("A way has two points at least.");
  return true;
}

/** Adds a way through joints to the design at hand, and selects it. */
export function addRoad(kind: Road["kind"], joints: readonly Joint[]): void {
  const { changeDesign, select } = useStudy.getState();
  const id = newId(kind);
  changeDesign(`Draw ${kind}`, (d) => {
    // A way that is joined along its length has a point there, so that it stays joined when either is moved.
    for (const { at, on } of joints) if (on) insertPoint(d, on.road, on.segment, at);
    d.roads = [
      ...(d.roads ?? []),
      roadSchema.parse({
        id,
        kind,
        width: WIDTHS[kind],
        points: joints.map(({ at }) => placed(at)),
        from: joints[0].element ?? "",
        to: joints.at(-1)?.element ?? "",
      }),
    ];
  });
  select([id]);
  announce(`${ROAD_LABELS[kind]} drawn.`);
}

function insertPoint(design: Design, id: string, segment: number, at: Point): void {
  const road = design.roads?.find((r) => r.id === id);
  if (!road || road.points.length >= 200) return;
  const drawn = drawnRoad(road, design);
  if (drawn.some(([x, y]) => Math.hypot(x - at[0], y - at[1]) < 1e-6)) return;
  road.points.splice(segment, 0, placed(at));
}

/** Draws a way from each of the selected elements to the next: the keyboard's way to draw one. */
export function joinSelected(kind: Road["kind"]): void {
  const elements = selected()?.elements ?? [];
  const joints = elements.map(({ id, at }): Joint => ({ at, element: id }));
  for (let i = 1; i < joints.length; i++) addRoad(kind, [joints[i - 1], joints[i]]);
}

/** Moves a point of a way; an end that comes to an element is there from now on, and one that leaves it is not. */
export function moveRoadPoint(id: string, index: number, screen: Point, key: string): void {
  const joint = jointAt(screen, (road) => road !== id);
  useStudy.getState().changeDesign(
    "Move point",
    (d) => {
      const road = d.roads?.find((r) => r.id === id);
      if (!road?.points[index]) return;
      const last = road.points.length - 1;
      if (index === 0) road.from = joint.element ?? "";
      if (index === last) road.to = joint.element ?? "";
      road.points[index] = placed(joint.at);
    },
    key,
  );
}

/** Puts a point into a way behind another of its points. */
export function bendRoad(id: string, segment: number, screen: Point, key?: string): void {
  const { view, size } = useView.getState();
  const at = placed(snap(toFloor(view, size, screen), gridStep(view)));
  useStudy.getState().changeDesign("Bend way", (d) => insertPoint(d, id, segment, at), key);
}

/** Takes a point out of a way that has more than two. */
export function straightenRoad(id: string, index: number): void {
  const road = roadsOf(selected()?.design ?? ({} as Design)).find((r) => r.id === id);
  if (!road || road.points.length <= 2) return announce("A way has two points at least.");
  useStudy.getState().changeDesign("Straighten way", (d) => {
    const drawn = d.roads?.find((r) => r.id === id);
    if (!drawn) return;
    if (index === 0) drawn.from = "";
    if (index === drawn.points.length - 1) drawn.to = "";
    drawn.points.splice(index, 1);
  });
}
