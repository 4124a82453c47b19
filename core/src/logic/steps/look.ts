import type { DesignOf } from "../../document/design.ts";
import { everyStep } from "../../document/logic.ts";
import { colour, longText, settings } from "../../settings/setting.ts";
import { stepKind } from "../kind.ts";

/** A colour that steps give to entities, and what it means. */
export interface Look {
  readonly colour: string;
  readonly means: string;
}

/** The looks that steps of a design give, in their order; those alike are one. */
export function looksOf({ procedures = [], rules = [] }: Pick<DesignOf, "procedures" | "rules">): readonly Look[] {
  const found: Look[] = [];
  for (const { steps } of [...procedures, ...rules])
    for (const step of everyStep(steps)) {
      if (step.do !== "look") continue;
      const { colour, means } = step as unknown as Look;
      if (!found.some((one) => one.colour === colour && one.means === means)) found.push({ colour, means });
    }
  return found;
}

/** Gives the entity a colour, while watching. */
export const look = stepKind({
  kind: "look",
  label: "Colour the entity",
  group: "entities",
  help: "While watching, the entity has this colour from now on, in place of its type's; what it means stands in the legend. It changes no number.",
  example: "Colour the entity red, for heavy",
  sentence: "Colour the entity {colour}(, for {means})",
  settings: settings({
    colour: colour("Colour", "The colour it has from now on.", "#D9512C"),
    means: longText("Meaning", "What the colour means, for the legend.", "heavy"),
  }),
  ofEntity: true,
  lower(step, { lowering: { kernel, shown, model }, next }) {
    const { colour: own, means } = step.step as unknown as Look;
    const number = looksOf(model.document).findIndex((one) => one.colour === own && one.means === means) + 1;
    return kernel.emit((token) => {
      shown.dress(token, kernel.pool.serial[token], number);
      return next;
    });
  },
});
