import { useEffect, useRef, useState } from "react";
import { create } from "zustand";
import { announce } from "../ui/announce.ts";
import { type Command, matches } from "./command.ts";

/** Asked anew whenever the commands are needed, so that they are those of the moment. */
type Source = () => readonly Command[];

interface CommandState {
  /** In order of registration; the latest, of the page at hand, go first. */
  sources: readonly Source[];
  /** What is open over the page, if anything. */
  open: "commands" | "elements" | "keys" | undefined;
  show(what: CommandState["open"]): void;
}

export const useCommands = create<CommandState>((set) => ({
  sources: [],
  open: undefined,
  show: (open) => set({ open }),
}));

export const allCommands = (): Command[] =>
  [...useCommands.getState().sources].reverse().flatMap((source) => [...source()]);

/** Offers commands while the component is on screen. `source` must be stable. */
export function useOffer(source: Source): void {
  useEffect(() => {
    useCommands.setState(({ sources }) => ({ sources: [...sources, source] }));
    return () => useCommands.setState(({ sources }) => ({ sources: sources.filter((s) => s !== source) }));
  }, [source]);
}

/** Offers commands that change with what is on screen. */
export function useOfferOf(commands: readonly Command[]): void {
  const latest = useRef(commands);
  useEffect(() => {
    latest.current = commands;
  });
  const [source] = useState(() => () => latest.current);
  useOffer(source);
}

/** Does a command, or says why it cannot be done. */
export function perform(command: Command): void {
  const refusal = command.refusal?.();
  if (refusal) announce(refusal);
  else command.run();
}

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    target.matches("input:not([type=checkbox], [type=range]), textarea, select") ||
    target.closest("[role=menu], [role=dialog], [role=grid]") !== null);

/** Listens for the keys of all commands on offer. */
export function useCommandKeys(): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.isComposing) return;
      const typing = isTyping(event.target);
      const command = allCommands().find(
        (c) => (!typing || c.whileTyping) && c.keys?.some((keys) => matches(keys, event)),
      );
      if (!command || command.yields?.()) return;
      event.preventDefault();
      perform(command);
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
