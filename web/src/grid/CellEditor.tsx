import type { Problem } from "@busy-harbor/core";
import { Command } from "cmdk";
import { Popover } from "radix-ui";
import { useId, useState } from "react";
import { loadedEditor } from "../expressions/ExpressionInput.tsx";
import { namesWhere } from "../expressions/names.ts";
import { useStudy } from "../state/study.ts";
import type { GridColumn } from "./column.ts";

interface Props {
  readonly column: Pick<GridColumn<never>, "label" | "mono" | "expression">;
  readonly choices: readonly string[] | undefined;
  /** What was in the cell before. */
  readonly before: string;
  readonly text: string;
  /** What is wrong with what was there. */
  readonly problems: readonly Problem[];
  /** Why what was written last cannot be taken. */
  readonly refusal: string | undefined;
  readonly onChange: (text: string) => void;
  /** It is done; with a text, this is taken. */
  readonly onDone: (text?: string) => void;
  readonly onLeave: () => void;
}

/** What stands in a cell while it is written in: an editor of expressions, a choice, or a plain field. */
export function CellEditor(props: Props) {
  if (props.choices) return <ChoiceEditor {...props} choices={props.choices} />;
  return props.column.expression && loadedEditor() ? <ExpressionCell {...props} /> : <TextEditor {...props} />;
}

function TextEditor({ column, text, refusal, onChange, onLeave }: Props) {
  return (
    <input
      autoFocus
      aria-label={column.label}
      aria-invalid={refusal !== undefined}
      className={`h-full w-full bg-sheet px-2 outline-none ${column.mono ? "mono" : ""} ${refusal ? "text-buoy-deep" : ""}`}
      value={text}
      autoComplete="off"
      onFocus={(event) => event.target.setSelectionRange(text.length, text.length)}
      onChange={(event) => onChange(event.target.value)}
      onBlur={onLeave}
    />
  );
}

function ExpressionCell({ column, before, problems, text, onChange, onDone, onLeave }: Props) {
  const id = useId();
  const { ExpressionEditor } = loadedEditor()!;
  const [names] = useState(() => namesWhere(column.expression!));
  return (
    <div className="expression-cell">
      <span id={`${id}-label`} className="sr-only">
        {column.label}
      </span>
      <ExpressionEditor
        id={id}
        value={text}
        names={names}
        problems={text === before ? problems : NO_PROBLEMS}
        labelledBy={`${id}-label`}
        describedBy={undefined}
        placeholder={undefined}
        selection={[text.length, text.length]}
        onChange={onChange}
        onEnter={() => onDone()}
        onUndo={() => useStudy.getState().undo()}
        onRedo={() => useStudy.getState().redo()}
        onLeave={onLeave}
      />
    </div>
  );
}

const NO_PROBLEMS: readonly never[] = [];

/** What is typed finds; Enter or a click takes. */
function ChoiceEditor({
  column,
  choices,
  before,
  text,
  onChange,
  onDone,
  onLeave,
}: Props & { choices: readonly string[] }) {
  const wanted = text.trim().toLowerCase();
  const offered = text === before ? choices : choices.filter((c) => c.toLowerCase().includes(wanted));
  const [wished, setLit] = useState(before);
  const lit = offered.includes(wished) ? wished : (offered[0] ?? "");
  const listId = useId();
  return (
    <Popover.Root open>
      <Command
        label={column.label}
        shouldFilter={false}
        value={lit}
        onValueChange={setLit}
        className="h-full"
        onKeyDown={(event) => {
          // The one that is lit is what Tab leaves with.
          if (event.key !== "Tab" || lit === "") return;
          event.preventDefault();
          event.stopPropagation();
          onDone(lit);
        }}
      >
        <Popover.Anchor asChild>
          {/* Not the list's own field: that one lights the first entry whatever is in the cell. */}
          <input
            autoFocus
            role="combobox"
            aria-label={column.label}
            aria-expanded
            aria-controls={listId}
            autoComplete="off"
            className="h-full w-full bg-sheet px-2 outline-none"
            value={text}
            onChange={(event) => onChange(event.target.value)}
            // What was there is written over; a letter already typed is gone on from.
            onFocus={(event) => event.target.setSelectionRange(text === before ? 0 : text.length, text.length)}
            onBlur={onLeave}
          />
        </Popover.Anchor>
        <Popover.Portal>
          <Popover.Content
            align="start"
            sideOffset={2}
            collisionPadding={8}
            className="panel float z-50 min-w-(--radix-popover-trigger-width) overflow-hidden"
            data-testid="choices"
            onOpenAutoFocus={(event) => event.preventDefault()}
            onCloseAutoFocus={(event) => event.preventDefault()}
            onEscapeKeyDown={(event) => event.preventDefault()}
            // The keys stay in the cell.
            onPointerDown={(event) => event.preventDefault()}
          >
            <Command.List id={listId} label={column.label} className="max-h-64 overflow-y-auto p-1">
              <Command.Empty className="px-2 py-2 text-soft">None begins or goes on so.</Command.Empty>
              {offered.map((c) => (
                <Command.Item
                  key={c}
                  value={c}
                  className="cursor-pointer rounded px-2 py-1 data-[selected=true]:bg-water"
                  onSelect={() => onDone(c)}
                >
                  {c}
                </Command.Item>
              ))}
            </Command.List>
          </Popover.Content>
        </Popover.Portal>
      </Command>
    </Popover.Root>
  );
}
