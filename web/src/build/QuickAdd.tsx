import { type Design, elementKinds, type ElementKindName } from "@busy-harbor/core";
import { Command } from "cmdk";
import { connectRefusal } from "../state/edits.ts";
import { useBuild } from "./buildStore.ts";
import { addAt, linkTo } from "./putOnFloor.ts";

/** The small search box at the pointer: type, Enter, it is there. Also links to an existing element. */
export function QuickAdd({ design }: { design: Design }) {
  const quickAdd = useBuild((s) => s.quickAdd);
  const { closeQuickAdd } = useBuild.getState();
  if (!quickAdd) return null;
  const { at, from, linkOnly } = quickAdd;
  const source = design.elements.find((e) => e.id === from);
  const done = (act: () => void) => () => {
    closeQuickAdd();
    act();
    document.querySelector<HTMLElement>("[data-testid=floor]")?.focus();
  };
  const targets = source ? design.elements.filter((e) => !connectRefusal(source, e)) : [];
  const kinds = (Object.keys(elementKinds) as ElementKindName[]).filter(
    (kind) => !source || elementKinds[kind].hasWayIn,
  );
  return (
    <>
      <div className="absolute inset-0 z-20" onPointerDown={closeQuickAdd} />
      <Command
        label={source ? `Link ${source.name} to` : "Add an element"}
        className="panel float absolute z-30 w-64 overflow-hidden"
        style={{
          left: `clamp(8px, ${at[0]}px, calc(100% - 270px))`,
          top: `clamp(8px, ${at[1]}px, calc(100% - 320px))`,
        }}
        onKeyDown={(event) => {
          if (event.key === "Escape") {
            event.stopPropagation();
            done(() => undefined)();
          }
        }}
      >
        <Command.Input
          autoFocus
          placeholder={source ? `${source.name} leads to …` : "Add an element …"}
          className="w-full border-b border-line px-3 py-2 outline-none"
        />
        <Command.List className="max-h-64 overflow-y-auto p-1">
          <Command.Empty className="px-3 py-2 text-soft">Nothing of that name.</Command.Empty>
          {targets.length > 0 && (
            <Command.Group heading={<span className="caps block px-2 pt-1">Link to</span>}>
              {targets.map((element) => (
                <Item key={element.id} value={element.name} onSelect={done(() => linkTo(source!.id, element.id))}>
                  {element.name}
                  <span className="text-soft">{elementKinds[element.kind].label}</span>
                </Item>
              ))}
            </Command.Group>
          )}
          {!linkOnly && (
            <Command.Group heading={source ? <span className="caps block px-2 pt-1">Add and link</span> : undefined}>
              {kinds.map((kind) => (
                <Item key={kind} value={elementKinds[kind].label} onSelect={done(() => addAt(kind, at, from))}>
                  {elementKinds[kind].label}
                </Item>
              ))}
            </Command.Group>
          )}
        </Command.List>
      </Command>
    </>
  );
}

function Item({ value, onSelect, children }: { value: string; onSelect: () => void; children: React.ReactNode }) {
  return (
    <Command.Item
      value={value}
      onSelect={onSelect}
      className="flex cursor-pointer justify-between gap-3 rounded-md px-2 py-1.5 data-[selected=true]:bg-water"
    >
      {children}
    </Command.Item>
  );
}
