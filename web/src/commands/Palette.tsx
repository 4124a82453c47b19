import { Command as Search } from "cmdk";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { type Command, ELEMENTS, relevance, shownKeys } from "./command.ts";
import { allCommands, perform, useCommands } from "./commandStore.ts";
import { groupBy } from "../groupBy.ts";

/** A search field over everything a person can do (Ctrl K), or over the elements (Ctrl F). */
export function Palette() {
  const { open, show } = useCommands();
  const what = open === "commands" || open === "elements" ? open : undefined;
  return (
    <Dialog.Root open={what !== undefined} onOpenChange={(next) => !next && show(undefined)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          className="panel float fixed top-[12vh] left-1/2 z-50 w-[520px] -translate-x-1/2 overflow-hidden"
          onCloseAutoFocus={(event) => event.preventDefault()}
        >
          <Dialog.Title className="sr-only">{what === "elements" ? "Find an element" : "Commands"}</Dialog.Title>
          {what && <Results what={what} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Results({ what }: { what: "commands" | "elements" }) {
  const show = useCommands((s) => s.show);
  const [commands] = useState(() => allCommands().filter((c) => what === "commands" || c.group === ELEMENTS));
  const groups = groupBy(commands, (c) => c.group);
  const choose = (command: Command) => {
    show(undefined);
    document.querySelector<HTMLElement>("[data-testid=floor]")?.focus();
    perform(command);
  };
  return (
    <Search
      label={what === "elements" ? "Find an element" : "Commands"}
      loop
      filter={(_id, search, keywords) => relevance(keywords?.[0] ?? "", search)}
    >
      <Search.Input
        autoFocus
        placeholder={what === "elements" ? "Find an element by its name …" : "What do you want to do?"}
        className="w-full border-b border-line bg-transparent px-4 py-3 text-base outline-none"
      />
      <Search.List className="max-h-[52vh] overflow-y-auto p-1.5">
        <Search.Empty className="px-3 py-2 text-soft">
          {what === "elements" ? "No element of that name in this design." : "Nothing of that name."}
        </Search.Empty>
        {[...groups].map(([group, members]) => (
          <Search.Group
            key={group}
            heading={what === "commands" ? <span className="caps block px-2.5 pt-1.5 pb-0.5">{group}</span> : undefined}
          >
            {members.map((command) => (
              <Entry key={command.id} command={command} onSelect={() => choose(command)} />
            ))}
          </Search.Group>
        ))}
      </Search.List>
    </Search>
  );
}

function Entry({ command, onSelect }: { command: Command; onSelect: () => void }) {
  const refusal = command.refusal?.();
  return (
    <Search.Item
      value={command.id}
      keywords={[command.label]}
      onSelect={onSelect}
      data-tip={refusal}
      className={`flex cursor-pointer items-center justify-between gap-4 rounded-md px-2.5 py-1.5 data-[selected=true]:bg-water ${refusal ? "text-soft" : ""}`}
    >
      <span className="truncate">{command.label}</span>
      {command.note && <span className="shrink-0 text-soft">{command.note}</span>}
      {command.keys && <Keys keys={command.keys[0]} />}
    </Search.Item>
  );
}

/** A key combination, as on the keys. */
export function Keys({ keys }: { keys: string }) {
  return (
    <span className="flex shrink-0 gap-1">
      {shownKeys(keys)
        .split(" ")
        .map((key) => (
          <kbd
            key={key}
            className="min-w-5 rounded border border-line bg-paper px-1.5 text-center font-sans text-xs text-soft"
          >
            {key}
          </kbd>
        ))}
    </span>
  );
}
