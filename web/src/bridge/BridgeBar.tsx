import { DropdownMenu } from "radix-ui";
import { Copy, Pencil, Search, Trash2 } from "lucide-react";
import { Link, NavLink, useNavigate } from "react-router";
import { useRuns } from "../state/runs.ts";
import { useDesign, useStudy } from "../state/study.ts";
import { Mark } from "../ui/Mark.tsx";
import { useCommands } from "../commands/commandStore.ts";
import { Keys } from "../commands/Palette.tsx";
import { RunButton } from "./RunButton.tsx";
import { STAGES } from "./stages.ts";
import { copyShownDesign, deleteShownDesign, renameShownDesign } from "./studyCommands.ts";

/** The one line at the top: study, design, stages, what is saved, and the run. */
export function BridgeBar() {
  const { id, history } = useStudy();
  const name = history?.present.name ?? "";
  return (
    <header className="flex h-[46px] shrink-0 items-center gap-3 border-b border-ink/60 bg-sheet px-3.5">
      <Link to="/" aria-label="All studies" data-tip="All studies" className="shrink-0">
        <Mark size={22} />
      </Link>
      <StudyName key={name} name={name} />
      <DesignSwitcher />
      <nav aria-label="Stages" className="flex h-full grow justify-center gap-1 2xl:gap-3">
        {STAGES.map((stage) => (
          <NavLink
            key={stage}
            to={`/study/${id}/${stage.toLowerCase()}`}
            className={({ isActive }) =>
              `flex items-center border-b-2 px-2 pt-0.5 text-sm ${isActive ? "border-buoy font-semibold text-ink" : "border-transparent text-soft hover:text-ink"}`
            }
          >
            {stage}
          </NavLink>
        ))}
      </nav>
      <button
        className="button shrink-0 text-soft"
        data-tip="Everything you can do (Ctrl K)"
        onClick={() => useCommands.getState().show("commands")}
      >
        <Search size={14} /> <span className="max-xl:sr-only">Commands</span> <Keys keys="Ctrl K" />
      </button>
      <SaveState />
      <RunButton />
    </header>
  );
}

function StudyName({ name }: { name: string }) {
  const { change } = useStudy();
  return (
    <input
      aria-label="Name of the study"
      defaultValue={name}
      data-tip={name}
      style={{ width: `${Math.min(30, Math.max(8, name.length * 0.92 + 1))}ch` }}
      className="min-w-24 shrink truncate rounded px-1 text-[14.5px] font-semibold hover:bg-water"
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      onBlur={(event) => {
        const value = event.target.value.trim().slice(0, 80);
        if (value) change("Rename study", (s) => void (s.name = value));
        else event.target.value = name;
      }}
    />
  );
}

function DesignSwitcher() {
  const { history, showDesign } = useStudy();
  const design = useDesign();
  const navigate = useNavigate();
  if (!history || !design) return null;
  const { designs } = history.present;
  const item =
    "flex cursor-pointer items-center gap-2 rounded-md px-2 py-1.5 outline-none data-[highlighted]:bg-water data-[disabled]:text-soft";
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        className="button max-w-52 shrink-0 rounded-full!"
        data-tip="Designs of this study"
        data-testid="design-switcher"
      >
        <span className="truncate">{design.name}</span> ▾
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} className="panel float z-40 min-w-60 p-1">
          <DropdownMenu.RadioGroup value={design.id} onValueChange={showDesign}>
            {designs.map((d) => (
              <DropdownMenu.RadioItem key={d.id} value={d.id} className={item}>
                <span className="w-3 text-action">{d.id === design.id ? "●" : ""}</span>
                {d.name}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Item className={item} onSelect={copyShownDesign}>
            <Copy size={14} /> Copy this design
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => renameShownDesign(navigate)}>
            <Pencil size={14} /> Rename on its card
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} disabled={designs.length === 1} onSelect={deleteShownDesign}>
            <Trash2 size={14} /> Delete this design
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function SaveState() {
  const { save, savedAt, saveProblem } = useStudy();
  const active = useRuns((s) => s.runs.some((r) => r.state === "running"));
  const time = savedAt?.toLocaleTimeString("en-GB", { hour: "numeric", minute: "2-digit" });
  const words = {
    saved: time ? `Saved ${time}` : "Saved",
    unsaved: "Saving …",
    saving: "Saving …",
    offline: "Not saved: the server does not answer",
    held: "Not saved yet: no room",
    conflict: "Not saved: changed elsewhere",
    refused: "Not saved: refused",
  }[save];
  return (
    <span
      role="status"
      data-testid="save-state"
      data-active={active}
      data-tip={save === "refused" || save === "held" ? saveProblem : undefined}
      className={`shrink-0 text-sm ${save === "offline" || save === "held" || save === "conflict" || save === "refused" ? "text-buoy-deep" : "text-soft"}`}
    >
      {words}
    </span>
  );
}
