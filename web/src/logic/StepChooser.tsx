import { STEP_GROUPS, type StepKind, stepKinds } from "@busy-harbor/core";
import { Command } from "cmdk";

/** How well a step fits what is typed: by its beginning, that of one of its words, or any part of it. */
function closeness(value: string, typed: string): number {
  const [name, sought] = [value.toLowerCase(), typed.trim().toLowerCase()];
  if (name.startsWith(sought)) return 1;
  if (name.split(/\W+/).some((word) => word.startsWith(sought))) return 0.6;
  return name.includes(sought) ? 0.3 : 0;
}

/** Chooses a kind of step by typing, where the step will stand. */
export function StepChooser({
  isLine,
  level,
  allowed,
  onChoose,
  onCancel,
  onShow,
}: {
  /** It stands among the lines of steps. */
  isLine: boolean;
  level: number;
  allowed: (kind: StepKind) => boolean;
  onChoose: (kind: string) => void;
  onCancel: () => void;
  /** The one that is gone to: its help is shown. */
  onShow: (kind: string) => void;
}) {
  const byKey = new Map(stepKinds.map((kind) => [`${kind.label} ${kind.kind}`.toLowerCase(), kind.kind]));
  return (
    <div
      {...(isLine ? { role: "treeitem", "aria-selected": false } : {})}
      style={{ paddingLeft: level * 26 + 40 }}
      className="py-1 pr-2"
    >
      <Command
        label="Which step"
        className="panel overflow-hidden"
        data-testid="step-chooser"
        filter={closeness}
        onValueChange={(value) => {
          const kind = byKey.get(value.toLowerCase());
          if (kind) onShow(kind);
        }}
        onKeyDown={(event) => {
          if (event.key !== "Escape") return;
          event.preventDefault();
          event.stopPropagation();
          onCancel();
        }}
        onBlur={(event) => {
          if (!event.currentTarget.contains(event.relatedTarget)) onCancel();
        }}
      >
        <Command.Input
          autoFocus
          placeholder="Which step? Type part of it …"
          className="w-full border-b border-line bg-transparent px-3 py-1.5 outline-none"
        />
        <Command.List className="max-h-56 overflow-y-auto p-1">
          <Command.Empty className="px-2 py-3 text-soft">No step is called that.</Command.Empty>
          {STEP_GROUPS.map(([group, words]) => {
            const kinds = stepKinds.filter((kind) => kind.group === group && allowed(kind));
            return (
              kinds.length > 0 && (
                <Command.Group
                  key={group}
                  heading={words}
                  className="[&_[cmdk-group-heading]]:caps [&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-1"
                >
                  {kinds.map(({ kind, label, example }) => (
                    <Command.Item
                      key={kind}
                      value={`${label} ${kind}`}
                      className="flex cursor-pointer items-baseline gap-3 rounded px-2 py-0.5 data-[selected=true]:bg-water"
                      onSelect={() => onChoose(kind)}
                    >
                      <span className="w-56 shrink-0">{label}</span>
                      <span className="truncate text-xs text-soft">{example}</span>
                    </Command.Item>
                  ))}
                </Command.Group>
              )
            );
          })}
        </Command.List>
      </Command>
    </div>
  );
}
