import type { DesignOf } from "../../document/design.ts";
import { everyStep } from "../../document/logic.ts";
import { ENTITY_LOOKS } from "../../document/entityType.ts";
import { choice, colour, longText, settings } from "../../settings/setting.ts";
import { stepKind } from "../kind.ts";

/** Shapes that need no picture of one's own. */
const SHAPES = [
  ["own", "shape of its type"],
  ...ENTITY_LOOKS.flatMap((look) => (look === "picture" ? [] : [[look, look] as const])),
] as const;

/** A colour that steps give to entities, the shape they have with it, and what that means. */
export interface Look {
  readonly colour: string;
  readonly shape: (typeof SHAPES)[number][0];
  readonly means: string;
}

const isSame = (look: Look) => (other: Look) =>
  other.colour === look.colour && other.shape === look.shape && other.means === look.means;

/** The looks that steps of a design give, in their order; those alike are one. */
export function looksOf({ procedures = [], rules = [] }: Pick<DesignOf, "procedures" | "rules">): readonly Look[] {
  const found: Look[] = [];
  for (const { steps } of [...procedures, ...rules])
    for (const step of everyStep(steps)) {
      if (step.do !== "look") continue;
      const { colour, shape, means } = step as unknown as Look;
      if (!found.some(isSame({ colour, shape, means }))) found.push({ colour, shape, means });
    }
  return found;
}

/** Gives the entity a colour, while watching. */
export const look = stepKind({
  kind: "look",
  label: "Colour or shape the entity",
  group: "entities",
  help: "While watching, the entity has this colour, and this shape, from now on, in place of its type's; what it means stands in the legend. It changes no number.",
  example: "Colour the entity red, for heavy",
  sentence: "Colour the entity {colour}( as a {shape})(, for {means})",
  settings: settings({
    colour: colour("Colour", "The colour it has from now on.", "#D9512C"),
    shape: choice("Shape", "The shape it has from now on.", SHAPES),
    means: longText("Meaning", "What the colour means, for the legend.", "heavy"),
  }),
  ofEntity: true,
  lower(step, { lowering: { kernel, shown, model }, next }) {
    const { colour: own, shape, means } = step.step as unknown as Look;
    const number = looksOf(model.document).findIndex(isSame({ colour: own, shape, means })) + 1;
    return kernel.emit((token) => {
      shown.dress(token, kernel.pool.serial[token], number);
      return next;
    });
  },
});
