import {
  type Compilation,
  type Design,
  everyStep,
  type Problem,
  readSteps,
  stepKindOf,
  stepSchema,
  stepsText,
  type StepBase,
  type StepModel,
} from "@busy-harbor/core";
import { Plus } from "lucide-react";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { z } from "zod";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import SortableEntries from "../ui/SortableEntries.tsx";
import {
  copyOf,
  deleteSteps,
  freshStep,
  indentStep,
  insertStep,
  type Owner,
  outdentStep,
  ownerIn,
  placeOf,
  putStep,
  shiftStep,
} from "./edits.ts";
import { StepChooser } from "./StepChooser.tsx";
import { type StepAct, StepLine } from "./StepLine.tsx";

/** Steps as they are put on the clipboard beside their sentences. */
const CLIPBOARD = "application/x-busy-harbor-steps";
const copied = z.array(stepSchema).min(1).max(2000);

interface Line {
  readonly step: StepBase;
  readonly level: number;
}

/** The lines in sight: those under a folded step are not. */
function linesOf(steps: readonly StepBase[], folded: ReadonlySet<string>, level = 0): Line[] {
  return steps.flatMap((step) => [
    { step, level },
    ...(step.steps && !folded.has(step.id) ? linesOf(step.steps, folded, level + 1) : []),
  ]);
}

const modelOf = (steps: readonly StepModel[], id: string): StepModel | undefined => {
  for (const model of steps) {
    const found = model.step.id === id ? model : modelOf(model.steps, id);
    if (found) return found;
  }
  return undefined;
};

/** The steps of a rule or a procedure, as an indented list of sentences. */
export function StepsEditor({
  owner,
  design,
  compilation,
  problems,
  onShowKind,
}: {
  owner: Owner;
  design: Design;
  compilation: Compilation | undefined;
  problems: readonly Problem[];
  /** A kind of step is at hand: its help is shown. */
  onShowKind: (kind: string) => void;
}) {
  const { changeDesign } = useStudy.getState();
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const [current, setCurrent] = useState<string | undefined>(owner.steps[0]?.id);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [choosing, setChoosing] = useState<{ readonly after: string | undefined }>();
  const [going, setGoing] = useState<{ readonly id: string; readonly into: boolean }>();
  const list = useRef<HTMLDivElement>(null);
  const lines = linesOf(owner.steps, folded);
  const compiledOwner = [
    ...(compilation?.model.logic?.procedures.map((p) => ({ of: p.procedure.id, steps: p.steps })) ?? []),
    ...(compilation?.model.logic?.rules.map((r) => ({ of: r.rule.id, steps: r.steps })) ?? []),
  ].find(({ of }) => of === owner.id);

  // After an edit the keys go on at the line that it was about, or in its first field.
  useEffect(() => {
    if (!going) return;
    const line = list.current?.querySelector<HTMLElement>(`[data-step="${going.id}"]`);
    if (!line) return;
    const field = going.into ? line.querySelector<HTMLElement>("textarea, input, [role=combobox], .cm-content") : null;
    (field ?? line).focus();
    setGoing(undefined);
  }, [going, lines]);

  const edit = (what: string, recipe: (owner: Owner) => void, mergeKey?: string) =>
    changeDesign(
      what,
      (draft) => {
        const target = ownerIn(draft, owner.id);
        if (target) recipe(target);
      },
      mergeKey,
    );
  const goTo = (id: string | undefined, into = false) => {
    if (id === undefined) return;
    setCurrent(id);
    setChosen([]);
    setGoing({ id, into });
    const step = [...everyStep(owner.steps)].find((one) => one.id === id);
    if (step) onShowKind(step.do);
  };
  const choose = (kind: string) => {
    const step = freshStep(kind, design);
    edit(`Add step: ${stepKindOf(step).label.toLowerCase()}`, (o) => insertStep(o, choosing?.after, step));
    setChoosing(undefined);
    setCurrent(step.id);
    setGoing({ id: step.id, into: true });
    onShowKind(kind);
  };
  const steps = (id: string) => (chosen.includes(id) && chosen.length > 1 ? chosen : [id]);
  const remove = (id: string) => {
    const ids = steps(id);
    let next: string | undefined;
    edit(ids.length === 1 ? "Delete step" : `Delete ${ids.length} steps`, (o) => void (next = deleteSteps(o, ids)));
    announce(ids.length === 1 ? "Step deleted." : `${ids.length} steps deleted.`, false, {
      label: "Undo",
      run: useStudy.getState().undo,
    });
    if (next === undefined) setCurrent(undefined);
    else goTo(next);
  };
  const toggle = (id: string, key: "off" | "pause", what: string) =>
    edit(what, (o) => {
      for (const one of steps(id)) {
        const place = placeOf(o.steps, one);
        const step = place?.list[place.index];
        if (!step) continue;
        if (step[key]) delete step[key];
        else step[key] = true;
      }
    });
  const move = (what: string, id: string, how: (o: Owner) => boolean) => {
    let done = false;
    edit(what, (o) => void (done = how(o)));
    if (done) goTo(id);
    else announce("It cannot go further that way.");
  };
  const duplicate = (id: string) => {
    const place = placeOf(owner.steps, id);
    if (!place) return;
    const copy = copyOf(place.list[place.index]);
    edit("Copy step", (o) => {
      const at = placeOf(o.steps, id);
      at?.list.splice(at.index + 1, 0, copy);
    });
    goTo(copy.id);
  };
  const actsOf = ({ id, off, pause }: StepBase): StepAct[] => [
    { label: "Add a step behind it", keys: "Enter", run: () => setChoosing({ after: id }) },
    { label: "Move up", keys: "Alt ↑", run: () => move("Move step", id, (o) => shiftStep(o, id, -1)) },
    { label: "Move down", keys: "Alt ↓", run: () => move("Move step", id, (o) => shiftStep(o, id, 1)) },
    { label: "One level in", keys: "Tab", run: () => move("Move step in", id, (o) => indentStep(o, id)) },
    { label: "One level out", keys: "Shift Tab", run: () => move("Move step out", id, (o) => outdentStep(o, id)) },
    { label: "Copy behind it", keys: "Ctrl D", run: () => duplicate(id) },
    {
      label: off ? "Switch on" : "Switch off",
      keys: "Ctrl /",
      run: () => toggle(id, "off", off ? "Switch step on" : "Switch step off"),
    },
    {
      label: pause ? "No longer stop the watch here" : "Stop the watch here",
      keys: "F9",
      run: () => toggle(id, "pause", "Stop the watch at a step"),
    },
    { label: "Delete", keys: "Delete", run: () => remove(id) },
  ];

  const onKey = (event: KeyboardEvent<HTMLElement>, step: StepBase) => {
    const line = event.currentTarget;
    if (event.target !== line) {
      // Within a field: Escape goes back to the line.
      if (event.key === "Escape") line.focus();
      return;
    }
    const at = lines.findIndex((one) => one.step.id === step.id);
    const { key, altKey, shiftKey, ctrlKey, metaKey } = event;
    const command = ctrlKey || metaKey;
    const act = ((): (() => void) | undefined => {
      if (key === "ArrowUp" || key === "ArrowDown") {
        const by = key === "ArrowUp" ? -1 : 1;
        if (altKey) return () => move("Move step", step.id, (o) => shiftStep(o, step.id, by));
        const next = lines[at + by]?.step.id;
        if (shiftKey && next) return () => extendTo(next);
        return () => goTo(next);
      }
      if (key === "ArrowRight")
        return step.steps && folded.has(step.id) ? () => fold(step.id, false) : () => goTo(step.id, true);
      if (key === "ArrowLeft")
        return step.steps && !folded.has(step.id)
          ? () => fold(step.id, true)
          : () => goTo(placeOf(owner.steps, step.id)?.under?.step.id);
      if (key === "Home") return () => goTo(lines[0]?.step.id);
      if (key === "End") return () => goTo(lines.at(-1)?.step.id);
      if (key === "Tab")
        return () =>
          move(shiftKey ? "Move step out" : "Move step in", step.id, (o) =>
            (shiftKey ? outdentStep : indentStep)(o, step.id),
          );
      if (key === "Enter" || key === "/")
        return command
          ? () => toggle(step.id, "off", step.off ? "Switch step on" : "Switch step off")
          : () => setChoosing({ after: step.id });
      if (key === "Delete" || key === "Backspace") return () => remove(step.id);
      if (key === "F2") return () => goTo(step.id, true);
      if (key === "F9") return () => toggle(step.id, "pause", "Stop the watch at a step");
      if (command && key === "d") return () => duplicate(step.id);
      return undefined;
    })();
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  const extendTo = (next: string) => {
    const ids = lines.map(({ step }) => step.id);
    const anchor = chosen[0] ?? current ?? next;
    const [a, b] = [ids.indexOf(anchor), ids.indexOf(next)];
    const range = ids.slice(Math.min(a, b), Math.max(a, b) + 1);
    setCurrent(next);
    setChosen([anchor, ...range.filter((id) => id !== anchor)]);
    setGoing({ id: next, into: false });
  };
  const fold = (id: string, on: boolean) => {
    const next = new Set(folded);
    if (on) next.add(id);
    else next.delete(id);
    setFolded(next);
  };
  /** The chosen steps, the uppermost of those that stand under one another. */
  const chosenSteps = (): StepBase[] => {
    const ids = new Set(current === undefined ? [] : steps(current));
    const found: StepBase[] = [];
    const walk = (all: readonly StepBase[]) => {
      for (const step of all)
        if (ids.has(step.id)) found.push(step);
        else walk(step.steps ?? []);
    };
    walk(owner.steps);
    return found;
  };
  const isInField = (target: EventTarget) => (target as HTMLElement).closest("textarea, input, .cm-editor") !== null;
  const copy = (event: React.ClipboardEvent, cut: boolean) => {
    if (isInField(event.target)) return;
    const all = chosenSteps();
    if (all.length === 0) return;
    event.preventDefault();
    event.clipboardData.setData("text/plain", stepsText(all, design));
    event.clipboardData.setData(CLIPBOARD, JSON.stringify(all));
    if (cut) remove(all[0].id);
    else announce(all.length === 1 ? "Step copied." : `${all.length} steps copied.`);
  };
  const paste = (event: React.ClipboardEvent) => {
    if (isInField(event.target)) return;
    const own = event.clipboardData.getData(CLIPBOARD);
    const text = event.clipboardData.getData("text/plain");
    if (own === "" && text.trim() === "") return;
    event.preventDefault();
    const read = own === "" ? stepsIn(text) : stepsOf(own);
    if (!read) return;
    const fresh = read.map(copyOf);
    edit(fresh.length === 1 ? "Paste step" : `Paste ${fresh.length} steps`, (o) => {
      let after = current;
      for (const step of fresh) {
        const place = after === undefined ? undefined : placeOf(o.steps, after);
        if (place) place.list.splice(place.index + 1, 0, step);
        else o.steps.push(step);
        after = step.id;
      }
    });
    goTo(fresh.at(-1)?.id);
  };

  /** Steps that were copied here. */
  const stepsOf = (json: string): readonly StepBase[] | undefined => {
    try {
      return copied.parse(JSON.parse(json));
    } catch {
      announce("What was copied holds no steps.", true);
      return undefined;
    }
  };
  /** Steps written as text, such as were copied into a letter and back. */
  const stepsIn = (text: string): readonly StepBase[] | undefined => {
    const found = readSteps(text, design);
    if (found.ok) return found.steps;
    announce(`Line ${found.line} is no step that can be read: ${found.text}`, true);
    return undefined;
  };

  const chooser = (level: number, isLine: boolean) => (
    <StepChooser
      isLine={isLine}
      level={level}
      allowed={() => true}
      onChoose={choose}
      onShow={onShowKind}
      onCancel={() => {
        setChoosing(undefined);
        if (choosing?.after) goTo(choosing.after);
      }}
    />
  );
  return (
    <div ref={list} onCopy={(e) => copy(e, false)} onCut={(e) => copy(e, true)} onPaste={paste}>
      <div role="tree" aria-label="Steps" data-testid="steps">
        <SortableEntries
          ids={lines.map(({ step }) => step.id)}
          nameOf={(id) => {
            const step = lines.find((one) => one.step.id === id)?.step;
            return step ? stepKindOf(step).label : "step";
          }}
          onMove={(from, to) => {
            const [id, at] = [lines[from].step.id, lines[to].step.id];
            edit("Move step", (o) => putStep(o, id, at, to > from));
            goTo(id);
          }}
        >
          {(id, i, grip) => {
            const line = lines[i];
            if (!line) return null;
            const { step, level } = line;
            return (
              <>
                <StepLine
                  step={step}
                  level={level}
                  design={design}
                  model={() => (compiledOwner ? modelOf(compiledOwner.steps, id) : undefined)}
                  problems={problems}
                  isCurrent={id === current}
                  isChosen={id === current || chosen.includes(id)}
                  isFolded={folded.has(id)}
                  grip={grip}
                  acts={actsOf(step)}
                  onFold={(on) => fold(id, on)}
                  onCurrent={(extend) => {
                    if (extend) extendTo(id);
                    else if (id !== current) {
                      setCurrent(id);
                      setChosen([]);
                      onShowKind(step.do);
                    }
                  }}
                  onKey={(event) => onKey(event, step)}
                  onEnter={() => setChoosing({ after: id })}
                  edit={(what, key, recipe) =>
                    edit(
                      `Change ${what.toLowerCase()}`,
                      (o) => {
                        const place = placeOf(o.steps, id);
                        if (place) recipe(place.list[place.index] as unknown as Record<string, unknown>);
                      },
                      `${owner.id}/${id}/${key}`,
                    )
                  }
                />
                {choosing?.after === id && chooser(step.steps?.length === 0 ? level + 1 : level, true)}
              </>
            );
          }}
        </SortableEntries>
      </div>
      {choosing && choosing.after === undefined && chooser(0, false)}
      {!choosing && (
        <button
          className="mt-1 ml-10 flex items-center gap-1.5 rounded-md px-2 py-1 text-soft hover:bg-water"
          onClick={() => setChoosing({ after: undefined })}
          onKeyDown={(event) => {
            if (event.key !== "/") return;
            event.preventDefault();
            setChoosing({ after: undefined });
          }}
        >
          <Plus size={14} /> Step <span className="text-xs">( / or Enter )</span>
        </button>
      )}
    </div>
  );
}
