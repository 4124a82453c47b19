import { type Design, formatNumber, type Model, type Study } from "@busy-harbor/core";
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import { gridStep, snap, toFloor, toScreen } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { placed } from "../state/edits.ts";
import { useShownId } from "../state/shown.ts";
import { DisplayFace } from "./DisplayFace.tsx";
import type { Reading } from "./reading.ts";
import { changeDisplay, deleteDisplay, DISPLAY_LABELS, showDisplay } from "./displayStore.ts";

const NOTHING: Pick<Reading, "time" | "values"> = { time: undefined, values: [] };

/** The displays of a design on its floor. While building they are moved and chosen; while watching they are read. */
export function FloorDisplays({
  study,
  design,
  model,
  reading,
  editable = false,
}: {
  study: Study;
  design: Design;
  model: Model | undefined;
  reading?: Omit<Reading, "first">;
  editable?: boolean;
}) {
  const { view, size } = useView();
  const shown = useShownId("display");
  if (!model || size.width === 0) return null;
  let first = 0;
  return (
    <ul
      aria-label="Displays on the floor"
      className="pointer-events-none absolute inset-0 overflow-hidden"
      data-testid="displays"
    >
      {model.displays.map((display) => {
        const from = first;
        first += display.values.length;
        // While typing, what is on screen may be newer than what has been read.
        const { id, at } = design.displays.find((d) => d.id === display.display.id) ?? display.display;
        const [x, y] = toScreen(view, size, at);
        const plain = display.display.kind === "text" || display.display.kind === "picture";
        return (
          <Holder
            key={id}
            id={id}
            at={at}
            label={`${DISPLAY_LABELS[display.display.kind]}${display.display.title ? ` ${display.display.title}` : ""}`}
            chosen={editable && shown === id}
            editable={editable}
            plain={plain}
            left={x}
            top={y}
          >
            <DisplayFace
              shown={display}
              model={model}
              units={study.units}
              reading={{ ...(reading ?? NOTHING), first: from }}
              scale={view.scale}
            />
          </Holder>
        );
      })}
    </ul>
  );
}

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

function Holder({
  id,
  at,
  label,
  chosen,
  editable,
  plain,
  left,
  top,
  children,
}: {
  id: string;
  at: readonly [number, number];
  label: string;
  chosen: boolean;
  editable: boolean;
  plain: boolean;
  left: number;
  top: number;
  children: React.ReactNode;
}) {
  const grabbed = useRef<{ x: number; y: number; at: readonly [number, number]; key: string }>(undefined);
  const move = (to: readonly [number, number], key: string) =>
    changeDisplay(id, "Move display", (d) => void (d.at = placed([to[0], to[1]])), key);
  const drag = (event: PointerEvent) => {
    if (!grabbed.current) return;
    const { view, size } = useView.getState();
    const { x, y, at: from, key } = grabbed.current;
    if (Math.hypot(event.clientX - x, event.clientY - y) < 4) return;
    const [sx, sy] = toScreen(view, size, [from[0], from[1]]);
    move(snap(toFloor(view, size, [sx + event.clientX - x, sy + event.clientY - y]), gridStep(view)), key);
  };
  const key = (event: KeyboardEvent) => {
    const arrow = ARROWS[event.key];
    if (arrow) {
      const step = gridStep(useView.getState().view) * (event.shiftKey ? 5 : 1);
      move([at[0] + arrow[0] * step, at[1] + arrow[1] * step], "keyboard-move");
    } else if (event.key === "Delete" || event.key === "Backspace") deleteDisplay(id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <li
      className={`absolute px-2 py-1 ${plain ? "rounded" : "panel"} ${editable ? "pointer-events-auto cursor-move" : ""} ${chosen ? "outline-2 outline-offset-2 outline-action outline-dashed" : ""}`}
      style={{ left, top }}
      aria-label={editable ? `${label}, ${formatNumber(at[0])} across, ${formatNumber(at[1])} down` : label}
      tabIndex={editable ? 0 : undefined}
      data-display={id}
      {...(editable && {
        onPointerDown: (event: PointerEvent<HTMLLIElement>) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          grabbed.current = { x: event.clientX, y: event.clientY, at, key: `drag-${event.timeStamp}` };
          showDisplay(id);
        },
        onPointerMove: drag,
        onPointerUp: () => (grabbed.current = undefined),
        onFocus: () => showDisplay(id),
        onKeyDown: key,
      })}
    >
      {children}
    </li>
  );
}
