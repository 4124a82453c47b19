import { isBare, type Problem, sentenceParts, settingsIn, type Setting, stepKindOf } from "@busy-harbor/core";
import { ChevronDown, ChevronRight, MessageSquare, MoreHorizontal } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { Fragment, type KeyboardEvent, type ReactNode, useState } from "react";
import { StepField, type StepFields } from "./StepField.tsx";

/** What can be done with a step, by the keys or from its menu. */
export interface StepAct {
  readonly label: string;
  readonly keys: string;
  run(): void;
}

interface Props extends StepFields {
  readonly level: number;
  readonly isCurrent: boolean;
  readonly isChosen: boolean;
  readonly isFolded: boolean;
  readonly grip: ReactNode;
  readonly acts: readonly StepAct[];
  readonly onFold: (folded: boolean) => void;
  readonly onCurrent: (extend: boolean) => void;
  readonly onKey: (event: KeyboardEvent<HTMLElement>) => void;
}

/** A step as a sentence, its settings fields within it. */
export function StepLine(props: Props) {
  const { step, level, isCurrent, isChosen, isFolded, grip, acts, problems, onFold, onCurrent, onKey, edit } = props;
  const kind = stepKindOf(step);
  const own = problems.filter((p) => p.field?.startsWith(`${step.id}.`));
  const [asked, setAsked] = useState<readonly string[]>([]);
  const byName = new Map<string, Setting>(settingsIn(kind.settings).map((setting) => [setting.name, setting]));
  const field = (name: string) => {
    const setting = byName.get(name);
    return setting && <StepField {...props} setting={setting} problems={own} />;
  };
  const parts = sentenceParts(kind.sentence);
  const isShown = (name: string) =>
    !isBare(step, name) || asked.includes(name) || own.some((p) => p.field === `${step.id}.${name}`);
  const noted = step.note !== undefined || asked.includes("note");
  return (
    <div
      role="treeitem"
      aria-level={level + 1}
      aria-selected={isChosen}
      aria-expanded={step.steps ? !isFolded : undefined}
      data-kind={kind.label}
      tabIndex={isCurrent ? 0 : -1}
      data-step={step.id}
      className={`group relative flex items-start gap-1 rounded-md py-1 pr-2 outline-offset-[-2px] ${isChosen ? "bg-water" : ""} ${step.off ? "opacity-55" : ""}`}
      style={{ paddingLeft: level * 26 + 4 }}
      onKeyDown={onKey}
      onFocus={() => onCurrent(false)}
      onPointerDown={(event) => onCurrent(event.shiftKey)}
    >
      {Array.from({ length: level }, (_, i) => (
        <span
          key={i}
          aria-hidden
          className="absolute top-0 bottom-0 border-l border-line"
          style={{ left: i * 26 + 14 }}
        />
      ))}
      <span className="flex h-7 w-9 shrink-0 items-center gap-0.5 opacity-40 group-focus-within:opacity-100 group-hover:opacity-100">
        {grip}
        {step.steps ? (
          <button
            tabIndex={-1}
            aria-label={isFolded ? "Unfold" : "Fold"}
            className="text-soft"
            onClick={() => onFold(!isFolded)}
          >
            {isFolded ? <ChevronRight size={14} /> : <ChevronDown size={14} />}
          </button>
        ) : null}
      </span>
      {step.pause && (
        <span
          className="absolute top-[11px] h-2.5 w-2.5 rounded-full bg-buoy"
          style={{ left: level * 26 + 30 }}
          role="img"
          aria-label="Stops the watch"
          data-tip="While watching, time stands still here (F9)"
        />
      )}
      <div className="min-w-0 grow">
        <div className={`leading-7 ${step.off ? "line-through" : ""}`}>
          {step.off && <span className="sr-only">Switched off: </span>}
          {parts.map((part, i) => {
            if ("words" in part) return <Words key={i} text={part.words} />;
            if (!("optional" in part)) return <Fragment key={i}>{field(part.field)}</Fragment>;
            if (!isShown(part.field)) return null;
            return (
              <Fragment key={i}>
                {part.optional.map((inner, j) =>
                  "words" in inner ? (
                    <Words key={j} text={inner.words} />
                  ) : (
                    <Fragment key={j}>{field(inner.field)}</Fragment>
                  ),
                )}
              </Fragment>
            );
          })}
          {parts.map((part) => {
            if (!("optional" in part) || isShown(part.field)) return null;
            const setting = byName.get(part.field);
            if (setting?.used?.(step as unknown as Record<string, unknown>) === false) return null;
            return (
              <button
                key={part.field}
                className={`ml-2 rounded px-1 text-xs text-action underline-offset-2 hover:underline ${isCurrent ? "" : "hidden"}`}
                data-tip={setting?.help}
                onClick={() => setAsked([...asked, part.field])}
              >
                + {setting?.label.toLowerCase()}
              </button>
            );
          })}
          {isFolded && step.steps && step.steps.length > 0 && (
            <span className="ml-2 text-xs text-soft">
              … {step.steps.length} {step.steps.length === 1 ? "step" : "steps"}
            </span>
          )}
        </div>
        {noted && (
          <label className="flex items-center gap-1.5 pb-0.5 text-soft">
            <MessageSquare size={12} aria-hidden />
            <span className="sr-only">Remark</span>
            <input
              className="w-full bg-transparent italic outline-none placeholder:text-soft focus:border-b focus:border-line"
              value={step.note ?? ""}
              placeholder="a remark"
              maxLength={1000}
              onChange={(event) => {
                const text = event.target.value;
                edit("Remark", "note", (draft) => {
                  if (text === "") delete draft.note;
                  else draft.note = text;
                });
              }}
            />
          </label>
        )}
        {own.length > 0 && (
          <ul className="text-xs text-buoy-deep">
            {own.map((p) => (
              <li key={`${p.code}${p.field}${p.message}`}>
                {p.message} {p.hint && <span className="text-ink">{p.hint}</span>}
              </li>
            ))}
          </ul>
        )}
      </div>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          tabIndex={-1}
          aria-label="More"
          className="mt-1 rounded p-1 text-soft opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 hover:bg-water data-[state=open]:opacity-100"
        >
          <MoreHorizontal size={14} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" sideOffset={4} className="panel float z-50 w-64 p-1">
            {acts.map(({ label, keys, run }) => (
              <DropdownMenu.Item
                key={label}
                className="flex cursor-pointer justify-between gap-3 rounded px-2 py-1 outline-none data-[highlighted]:bg-water"
                onSelect={run}
              >
                {label} <span className="text-soft">{keys}</span>
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Item
              className="flex cursor-pointer justify-between gap-3 rounded px-2 py-1 outline-none data-[highlighted]:bg-water"
              onSelect={() => setAsked([...asked, "note"])}
            >
              Remark
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  );
}

/** Words between fields, with the spaces that they have. */
const Words = ({ text }: { text: string }) => <span className="whitespace-pre-wrap">{text}</span>;

/** Problems of a whole rule or procedure that are of no step. */
export const ofNoStep = (problems: readonly Problem[]): readonly Problem[] =>
  problems.filter((p) => p.field === undefined || !p.path.includes("steps"));
