import { type Design, type Display, formatNumber, type Model, type Point, type Study } from "@busy-harbor/core";
import type { KeyboardEvent, ReactNode } from "react";
import { gridStep, toScreen } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { placed } from "../state/edits.ts";
import { DisplayFace } from "./DisplayFace.tsx";
import type { Reading } from "./reading.ts";
import { changeDisplay, deleteDisplay, DISPLAY_LABELS, showDisplay } from "./displayStore.ts";
import { watchFace } from "./faceSizes.ts";
import { sizeOf } from "./size.ts";

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
        const now = design.displays.find((d) => d.id === display.display.id) ?? display.display;
        const [x, y] = toScreen(view, size, now.at);
        return (
          <Holder
            key={now.id}
            display={now}
            scale={view.scale}
            label={`${DISPLAY_LABELS[display.display.kind]}${display.display.title ? ` ${display.display.title}` : ""}`}
            editable={editable}
            left={x}
            top={y}
          >
            <DisplayFace
              shown={display}
              model={model}
              units={study.units}
              reading={{ ...(reading ?? NOTHING), first: from }}
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

const HOLDERS: Readonly<Partial<Record<Display["kind"], string>>> = { text: "rounded px-2 py-1", picture: "" };

/** Takes the keyboard to a display on the floor. */
export const focusDisplay = (id: string): void =>
  document.querySelector<HTMLElement>(`[data-display="${CSS.escape(id)}"]`)?.focus();

/** A display on the floor, to be reached by keyboard while building; the pointer grabs its frame on the stage. */
function Holder({
  display,
  scale,
  label,
  editable,
  left,
  top,
  children,
}: {
  display: Display;
  scale: number;
  label: string;
  editable: boolean;
  left: number;
  top: number;
  children: ReactNode;
}) {
  const { id, at, kind, rotation } = display;
  const key = (event: KeyboardEvent) => {
    const arrow = ARROWS[event.key];
    if (arrow) {
      const step = gridStep(useView.getState().view) * (event.shiftKey ? 5 : 1);
      const to: Point = [at[0] + arrow[0] * step, at[1] + arrow[1] * step];
      changeDisplay(id, "Move display", (d) => void (d.at = placed(to)), "keyboard-move");
    } else if (event.key === "Delete" || event.key === "Backspace") deleteDisplay(id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <li
      ref={watchFace}
      className={`absolute origin-top-left outline-offset-2 ${HOLDERS[kind] ?? "panel px-2 py-1"}`}
      style={{ left, top, rotate: `${rotation}deg`, scale: sizeOf(display, scale) }}
      aria-label={editable ? `${label}, ${formatNumber(at[0])} across, ${formatNumber(at[1])} down` : label}
      tabIndex={editable ? 0 : undefined}
      data-display={id}
      {...(editable && { onFocus: () => showDisplay(id), onKeyDown: key })}
    >
      {children}
    </li>
  );
}
