import {
  type Design,
  type Element,
  type Frame,
  kindOf,
  looksOf,
  type Model,
  type Point,
  type Study,
} from "@busy-harbor/core";
import type Konva from "konva";
import { type Ref, useCallback, useImperativeHandle, useLayoutEffect, useMemo, useRef } from "react";
import { Layer, Shape, Stage } from "../floor/stage/konva.ts";
import { useBackdropFor } from "../drawings/useBackdropFor.ts";
import { drawClosedRoad } from "../floor/draw/roads.ts";
import { drawElement } from "../floor/draw/elements.ts";
import { drawHeat, drawTrail } from "../floor/draw/heat.ts";
import { drawNotes } from "../floor/draw/names.ts";
import { NOTHING, type Scene } from "../floor/scene.ts";
import { FloorStage, stageSize } from "../floor/stage/FloorStage.tsx";
import { StillLayer } from "../floor/stage/StillLayer.tsx";
import { StillShapes } from "../floor/stage/StillShapes.tsx";
import { drawCarrier } from "../floor/symbols/carrier.ts";
import { drawMember } from "../floor/symbols/member.ts";
import { drawEntities } from "../floor/symbols/entities.ts";
import { type Canvas, text } from "../floor/symbols/shared.ts";
import { usePictures } from "../floor/usePictures.ts";
import { panBy, type Size, symbolScale, toFloor, toScreen, type View } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { useTheme } from "../ui/theme.ts";
import { paletteWith } from "./entityColours.ts";
import { type Followed, isSame, Trail } from "./following.ts";
import { cellFor, Heat } from "./heat.ts";
import { useLook } from "./lookStore.ts";
import { MOST_ON_BED, type PlacedCarrier, placeCarriers, stacked } from "./placeCarriers.ts";
import { linesOnScreen, type Placed, placeEntities, type SlotMemory } from "./placeEntities.ts";

export interface WatchFloorHandle {
  show(frame: Frame): void;
  /** What has been seen of traffic and use since that was asked for. */
  heat(): Heat | undefined;
}

/** Somebody on the floor as it was drawn last, on the screen. */
interface Seen {
  readonly who: Followed;
  readonly x: number;
  readonly y: number;
}

/** Pixels from a click within which somebody is meant. */
const REACH = 14;

/**
 * The floor in motion: the design rests below; states of units and all entities are one shape above it, on a stage of
 * its own. That is drawn anew with every picture, and so is no larger than what is seen of it.
 */
export function WatchFloor({
  study,
  design,
  model,
  ref,
}: {
  study: Study;
  design: Design;
  model: Model;
  ref: Ref<WatchFloorHandle>;
}) {
  const { view, size } = useView();
  const moving = useRef<Konva.Layer>(null);
  const latest = useRef<Frame>(undefined);
  const slots = useRef<SlotMemory>(new Map());
  /** Told when somebody is clicked, or looked at closer. */
  const everybodySeen = useRef<() => readonly Seen[]>(() => []);
  const trail = useRef<{ readonly who: Followed; readonly of: Trail }>(undefined);
  const heat = useRef<Heat>(undefined);
  const { followed, heat: isHot } = useLook();
  const looks = usePictures(design.entityTypes);
  const theme = useTheme((s) => s.shown);
  const backdrop = useBackdropFor(study.drawings, view, size);
  const palettes = useMemo(
    () => model.types.map(({ type }) => paletteWith(type, looksOf(model.document))),
    // The colours of states go with the theme.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [model, theme],
  );
  const lines = useMemo(() => linesOnScreen(design, model, view, size), [design, model, view, size]);
  const scene: Scene = useMemo(
    () => ({
      plan: study.plan,
      backdrop,
      design,
      view,
      size,
      selection: NOTHING,
      troubled: NOTHING,
      grid: true,
      theme,
    }),
    [study.plan, backdrop, design, view, size, theme],
  );
  const resting: Scene = useMemo(() => ({ ...scene, size: stageSize(size) }), [scene, size]);

  const draw = useCallback(
    (ctx: Canvas) => {
      const frame = latest.current;
      if (!frame) return;
      const { placed, live } = placeEntities(
        frame,
        design,
        lines,
        view,
        size,
        slots.current,
        (from, to) => model.roads?.route(model.nodes[from].element.at, model.nodes[to].element.at)?.points,
      );
      const k = symbolScale(view);
      const gone = placeCarriers(frame, model, view, size);
      everybodySeen.current = () => seenOf(frame, placed, gone);
      const everybody = isHot || followed ? everybodySeen.current() : [];
      if (isHot) {
        heat.current ??= new Heat(cellFor(longest(design)), slotsOf(model));
        const { current: of } = heat;
        of.add(
          frame,
          movingOf(frame, everybody).map(({ x, y }) => toFloor(view, size, [x, y])),
        );
        drawTraffic(ctx, of, view, size);
        design.elements.forEach((element, i) => drawUse(ctx, of.shareAt(i), toScreen(view, size, element.at), k));
      } else heat.current = undefined;
      const now = followed && everybody.find(({ who }) => isSame(who, followed));
      if (followed && !(trail.current && isSame(trail.current.who, followed)))
        trail.current = { who: followed, of: new Trail() };
      if (now) trail.current!.of.add(toFloor(view, size, [now.x, now.y]), frame.time);
      model.followed.forEach(({ road }, i) => frame.roads.closed[i] === 1 && drawClosedRoad(ctx, road, scene));
      for (const element of design.elements) if (showsStates(element)) drawElement(ctx, element, { ...scene, live });
      const isSeen = ({ x, y }: { readonly x: number; readonly y: number }) =>
        x > -20 && y > -20 && x < size.width + 20 && y < size.height + 20;
      const carriers = gone.carriers.filter(isSeen);
      for (const { x, y, angle, doing, pose } of gone.members.filter(isSeen))
        drawMember(ctx, x, y, angle, k, doing, pose);
      for (const { x, y, angle } of carriers) drawCarrier(ctx, x, y, angle, k);
      const loads = carriers.flatMap(({ load, others, ...at }) =>
        load < 0 ? [] : stacked([load, ...others], at, k).map((on) => ({ ...at, ...on, shade: 0 })),
      );
      drawEntities(ctx, [...placed.filter(isSeen), ...loads], looks, palettes, k, ctx.getTransform().a);
      // More than are drawn on a vehicle: how many there are.
      for (const { x, y, load, others } of carriers)
        if (load >= 0 && others.length + 1 > MOST_ON_BED)
          text(ctx, String(others.length + 1), x, y - 13 * k, { size: Math.max(9, 11 * k), weight: 600 });
      if (followed && trail.current) {
        const points = trail.current.of.points.map((p) => toScreen(view, size, p));
        drawTrail(ctx, points, now && [now.x, now.y], k);
      }
      drawNotes(ctx, scene, notesOf(frame, design, isHot ? heat.current : undefined));
    },
    [design, model, view, size, scene, looks, palettes, lines, followed, isHot],
  );
  // At once, not when the page comes to it: what a frame costs is measured, and each is shown.
  const show = useCallback((frame: Frame) => {
    latest.current = frame;
    moving.current?.drawScene();
  }, []);
  useImperativeHandle(ref, () => ({ show, heat: () => heat.current }), [show]);
  useLayoutEffect(() => void moving.current?.batchDraw(), [draw]);

  const dragged = useRef<readonly [number, number]>([0, 0]);
  return (
    <div className="absolute inset-0" role="img" aria-label="Floor in motion" data-testid="watch-floor">
      <FloorStage
        onClick={({ at }) => {
          const near = nearest(everybodySeen.current(), ...at);
          if (near) useLook.getState().follow(near);
        }}
        onDragStart={({ at }) => (dragged.current = at)}
        onDrag={({ at }) => {
          const { view: now, setView } = useView.getState();
          setView(panBy(now, at[0] - dragged.current[0], at[1] - dragged.current[1]));
          dragged.current = at;
        }}
      >
        <StillLayer scene={resting} listening={false}>
          {(holder) => <StillShapes design={design} without={NOTHING} scene={holder} />}
        </StillLayer>
      </FloorStage>
      {size.width > 0 && (
        <Stage
          width={size.width}
          height={size.height}
          listening={false}
          className="pointer-events-none absolute inset-0"
        >
          <Layer ref={moving} listening={false}>
            <Shape perfectDrawEnabled={false} sceneFunc={(ctx) => draw(ctx._context)} />
          </Layer>
        </Stage>
      )}
    </div>
  );
}

/** Elements whose slots or units tell what they are doing. */
const showsStates = (element: Element) => kindOf(element).units !== undefined;

/** How many are at each element, or have been; where heat is shown, how much of it is in use. */
const notesOf = (frame: Frame, design: Design, heat: Heat | undefined): ReadonlyMap<string, string> =>
  new Map(
    design.elements.map((e, i) => {
      const { counts, quiet } = kindOf(e);
      const share = heat?.shareAt(i);
      if (share !== undefined) return [e.id, `${Math.round(share * 100)} % in use`];
      return [e.id, quiet && frame.counts[i] === 0 ? "" : `${frame.counts[i]} ${counts}`];
    }),
  );

/** Everybody with where they are: entities, what is on vehicles with those, vehicles, and members who walk. */
function seenOf(
  frame: Frame,
  placed: readonly Placed[],
  { carriers, members }: { readonly carriers: readonly PlacedCarrier[]; readonly members: readonly PlacedCarrier[] },
): Seen[] {
  const entity = (serial: number, { x, y }: { readonly x: number; readonly y: number }): Seen => ({
    who: { kind: "entity", serial },
    x,
    y,
  });
  return [
    ...placed.map((one) => entity(one.serial, one)),
    ...carriers.flatMap((one, i) => {
      const on = one.load < 0 ? [] : [one.serial, ...(frame.carriers.others[i] ?? []).map(([, serial]) => serial)];
      return [...on.map((serial) => entity(serial, one)), { who: whoOf("vehicle", one), x: one.x, y: one.y }];
    }),
    ...members.map((one) => ({ who: whoOf("member", one), x: one.x, y: one.y })),
  ];
}

const whoOf = (kind: "vehicle" | "member", { element, number }: PlacedCarrier): Followed => ({ kind, element, number });

/** Those who move just now; what is on a vehicle moves with it, and counts as one with it. */
function movingOf(frame: Frame, everybody: readonly Seen[]): Seen[] {
  const entities = new Set<number>();
  for (let i = 0; i < frame.count; i++) if (frame.motion.speed[i] > 0) entities.add(frame.serial[i]);
  const others = new Set<string>();
  for (const [kind, list] of [["vehicle", frame.carriers] as const, ["member", frame.members] as const])
    for (let i = 0; i < list.count; i++)
      if (list.motion.speed[i] > 0) others.add(`${kind} ${list.element[i]} ${list.number[i]}`);
  return everybody.filter(({ who }) =>
    who.kind === "entity" ? entities.has(who.serial) : others.has(`${who.kind} ${who.element} ${who.number}`),
  );
}

/** Who was drawn nearest to a point of the stage, within reach; entities go before what carries them. */
function nearest(everybody: readonly Seen[], x: number, y: number): Followed | undefined {
  let best: Followed | undefined;
  let least = REACH;
  for (const one of everybody) {
    const distance = Math.hypot(one.x - x, one.y - y);
    if (distance >= least) continue;
    least = distance;
    best = one.who;
  }
  return best;
}

/** Slots of stations, by their index. */
const slotsOf = ({ nodes }: Model): ReadonlyMap<number, number> =>
  new Map(
    nodes.flatMap(({ index, traits, settings }) =>
      traits.isWork ? [[index, settings.get("capacity")?.constant ?? 1] as const] : [],
    ),
  );

/** Metres of the longer side of where elements stand. */
function longest({ elements }: Design): number {
  const [x, y] = [0, 1].map((axis) => elements.map(({ at }) => at[axis]));
  return Math.max(1, Math.max(...x) - Math.min(...x), Math.max(...y) - Math.min(...y));
}

function drawTraffic(ctx: Canvas, heat: Heat, view: View, size: Size): void {
  const { most, cell } = heat;
  for (const { at, average } of heat.traffic()) {
    const corner = toScreen(view, size, at);
    if (corner[0] < -50 || corner[1] < -50 || corner[0] > size.width || corner[1] > size.height) continue;
    drawHeat(ctx, corner, cell * view.scale, average / most);
  }
}

/** A square under a symbol that is the darker the more of it is in use. */
function drawUse(ctx: Canvas, share: number | undefined, [x, y]: Point, k: number): void {
  if (!share) return;
  const side = USE * k;
  drawHeat(ctx, [x - side / 2, y - side / 2], side, share);
}

/** Pixels of the side of that square. */
const USE = 64;
