import { kindOf } from "@busy-harbor/core";
import type { NavigateFunction } from "react-router";
import { goToElement } from "../build/buildCommands.ts";
import { useBuild } from "../build/buildStore.ts";
import { type Command, ELEMENTS } from "../commands/command.ts";
import { useCommands } from "../commands/commandStore.ts";
import { copyDesign } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { THEME_LABELS, THEMES, useTheme } from "../ui/theme.ts";
import { factorRefusal, placeAtHand, takeAsFactor } from "../experiments/placeAtHand.ts";
import { runShownDesign } from "./runShownDesign.ts";
import { STAGES } from "./stages.ts";

/** What can be done at every stage of an open study. */
export function studyCommands(navigate: NavigateFunction): readonly Command[] {
  const { id, history, designId, showDesign, flush } = useStudy.getState();
  if (!id || !history) return [];
  const { designs } = history.present;
  const design = designs.find((d) => d.id === designId);
  return [
    {
      id: "commands",
      label: "Commands",
      group: "Find",
      keys: ["Ctrl K"],
      whileTyping: true,
      run: () => useCommands.getState().show("commands"),
    },
    {
      id: "find",
      label: "Find an element",
      group: "Find",
      keys: ["Ctrl F"],
      whileTyping: true,
      run: () => useCommands.getState().show("elements"),
    },
    { id: "keys", label: "Keys", group: "Find", keys: ["?"], run: () => useCommands.getState().show("keys") },
    { id: "undo", label: "Undo", group: "Edit", keys: ["Ctrl Z"], whileTyping: true, run: () => step("undo") },
    {
      id: "redo",
      label: "Redo",
      group: "Edit",
      keys: ["Ctrl Y", "Ctrl Shift Z"],
      whileTyping: true,
      run: () => step("redo"),
    },
    { id: "save", label: "Save now", group: "Edit", keys: ["Ctrl S"], whileTyping: true, run: () => void flush() },
    {
      id: "use-as-factor",
      label: "Use the setting or cell at hand as a factor",
      group: "Runs",
      keys: ["Ctrl Alt F"],
      whileTyping: true,
      refusal: () => factorRefusal(placeAtHand()),
      run: () =>
        takeAsFactor(
          placeAtHand()!,
          (experiment) => void navigate(`/study/${id}/compare?experiment=${encodeURIComponent(experiment)}`),
        ),
    },
    ...STAGES.map((stage, i): Command => ({
      id: `stage-${stage}`,
      label: stage,
      group: "Go to a stage",
      keys: [`Alt ${i + 1}`],
      whileTyping: true,
      run: () => void navigate(`/study/${id}/${stage.toLowerCase()}`),
    })),
    ...THEMES.map((theme): Command => ({
      id: `theme-${theme}`,
      label: THEME_LABELS[theme],
      group: "View",
      refusal: () => (useTheme.getState().theme === theme ? "This is how it looks now." : undefined),
      run: () => useTheme.getState().choose(theme),
    })),
    { id: "home", label: "All studies", group: "Go to a stage", run: () => void navigate("/") },
    {
      id: "run",
      label: `Run ${history.present.run.replications} replications of ${design?.name ?? "this design"}`,
      group: "Designs",
      run: () => void runShownDesign(navigate),
    },
    ...designs
      .filter((d) => d.id !== designId)
      .map((d): Command => ({
        id: `design-${d.id}`,
        label: `Show ${d.name}`,
        group: "Designs",
        run: () => showDesign(d.id),
      })),
    { id: "copy-design", label: "Copy this design", group: "Designs", run: copyShownDesign },
    { id: "rename-design", label: "Rename this design", group: "Designs", run: () => renameShownDesign(navigate) },
    {
      id: "delete-design",
      label: "Delete this design",
      group: "Designs",
      refusal: () => (designs.length > 1 ? undefined : "A study keeps at least one design."),
      run: deleteShownDesign,
    },
    ...(design?.elements ?? []).map((element): Command => ({
      id: `element-${element.id}`,
      label: element.name,
      note: kindOf(element).label,
      group: ELEMENTS,
      run() {
        void navigate(`/study/${id}/build`);
        goToElement(element.id);
      },
    })),
  ];
}

function step(which: "undo" | "redo"): void {
  const { history, [which]: act } = useStudy.getState();
  const next = which === "redo" ? history?.future[0] : history?.past.at(-1);
  if (!next) return announce(`Nothing to ${which}.`);
  act();
  announce(`${which === "redo" ? "Redone" : "Undone"}: ${next.name.toLowerCase()}.`);
}

/** Copies the design on screen, and goes on with the copy. */
export function copyShownDesign(): void {
  const { history, designId, change, showDesign } = useStudy.getState();
  const design = history?.present.designs.find((d) => d.id === designId);
  if (!design) return;
  let copy = "";
  change(`Copy ${design.name}`, (s) => void (copy = copyDesign(s, design.id)));
  showDesign(copy);
  announce(`${design.name} copied. Changes now go to the copy.`);
}

/** Goes to the name of the design on its card. */
export function renameShownDesign(navigate: NavigateFunction): void {
  const { id, select } = useStudy.getState();
  select([]);
  useBuild.setState({ focusField: "design-name" });
  void navigate(`/study/${id}/build`);
}

export function deleteShownDesign(): void {
  const { history, designId, change, undo } = useStudy.getState();
  const design = history?.present.designs.find((d) => d.id === designId);
  if (!design) return;
  change(`Delete ${design.name}`, (s) => void (s.designs = s.designs.filter((d) => d.id !== design.id)));
  announce(`${design.name} deleted.`, false, { label: "Undo", run: undo });
}
