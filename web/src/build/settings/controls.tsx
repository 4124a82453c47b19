import { type ElementOf, kindOf } from "@busy-harbor/core";
import type { ReactNode } from "react";
import type { Kit } from "./kit.tsx";
import { NeededBy } from "./NeededBy.tsx";
import { BellChoice, BreakdownChoice } from "./RuleChoice.tsx";

/** Settings for which the general row does not do: rules that are better drawn than told. */
export const CONTROLS: Readonly<Record<string, (kit: Kit) => ReactNode>> = {
  atBell: (kit) => (
    <BellChoice
      key="atBell"
      value={(kit.element as ElementOf<"station">).atBell}
      onChange={(v) => kit.set("atBell", v, "work when a pause begins")}
    />
  ),
  onBreakdown: (kit) => (
    <BreakdownChoice
      key="onBreakdown"
      value={(kit.element as ElementOf<"station">).onBreakdown}
      onChange={(v) => kit.set("onBreakdown", v, "work on a breakdown")}
    />
  ),
};

/** What stands on the card of a kind after its first section, besides its settings. */
export const besides = (kit: Kit): ReactNode =>
  kindOf(kit.element).group === "resources" ? <NeededBy key="needed by" kit={kit} /> : null;
