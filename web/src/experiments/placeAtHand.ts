import { type Path, valueAt } from "@busy-harbor/core/experiments";
import { createContext } from "react";
import { create } from "zustand";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { addFactor, factorAt } from "./edits.ts";

/** Where in the study the settings of a form stand; a field's name goes on from there. */
export const PlaceContext = createContext<Path | undefined>(undefined);

interface AtHand {
  /** The experiment that was last on screen, of the study at hand. */
  readonly experiment: string | undefined;
}

export const useAtHand = create<AtHand>(() => ({ experiment: undefined }));

let last: Element | undefined;

/** Remembers where the keys were last, for commands that are given elsewhere; returns how to stop that. */
export function followKeys(): () => void {
  const take = ({ target }: FocusEvent) => {
    const found = target instanceof Element ? target.closest("[data-place]") : null;
    if (found) last = found;
  };
  document.addEventListener("focusin", take);
  return () => document.removeEventListener("focusin", take);
}

/** The setting or the cell that has the keys, or had them last and is still on screen. */
export function placeAtHand(): Path | undefined {
  const found = document.activeElement?.closest("[data-place]") ?? (last?.isConnected ? last : undefined);
  const text = found instanceof HTMLElement ? found.dataset.place : undefined;
  return text === undefined ? undefined : (JSON.parse(text) as string[]);
}

/** The name of a field as keys that lead on: rows of a list by their id. */
export const placeOf = (form: Path, field: string): Path => [...form, ...field.split(".")];

/** Why a place cannot be a factor; undefined where it can. */
export function factorRefusal(path: Path | undefined): string | undefined {
  const { history, designId } = useStudy.getState();
  const design = history?.present.designs.find(({ id }) => id === designId);
  if (!history || !design || !path) return "Go to a setting, or to a cell of a table, first.";
  return valueAt(history.present, design, path) === undefined ? "This cannot be a factor." : undefined;
}

/** Makes a place a factor of the experiment that was last on screen, or of the last there is. */
export function takeAsFactor(path: Path, open: (experiment: string) => void): void {
  const refusal = factorRefusal(path);
  if (refusal !== undefined) return announce(refusal, true);
  const { history, designId } = useStudy.getState();
  const experiments = history!.present.experiments ?? [];
  const already = experiments.find((e) => factorAt(e, path));
  if (already) return open(already.id);
  const known = experiments.find(({ id }) => id === useAtHand.getState().experiment) ?? experiments.at(-1);
  const made = addFactor(path, known?.id, designId);
  if (typeof made === "string") return announce(made, true);
  const name = useStudy.getState().history?.present.experiments?.find(({ id }) => id === made.id)?.name ?? "";
  announce(`It is a factor of ${name} now.`, false, { label: "Open", run: () => open(made.id) });
}
