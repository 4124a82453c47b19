import type { Display } from "../../document/display.ts";
import { type Checked, checkExpression, numberOf, type ValueType } from "../../expression/index.ts";
import type { DisplayModel } from "../../model/model.ts";
import { TIME } from "../../quantity/index.ts";
import type { Path, Problems } from "./problems.ts";
import type { Scopes } from "./scopes.ts";

/** What a display shows. A mistake in it is a warning: it spoils no run. */
export function readDisplay(display: Display, scopes: Scopes, problems: Problems, path: Path): DisplayModel {
  const read = (text: string, field: string, label: string, type?: ValueType): Checked | undefined => {
    const refuse = (message: string, hint?: string, start = 0, end = text.length) => {
      problems.add(
        "bad-display",
        [...path, field],
        { id: display.id, field, start, end },
        `${label}: ${message}`,
        hint,
        "warning",
      );
      return undefined;
    };
    if (text.trim() === "")
      return refuse("it shows nothing yet.", "Write what to show, such as the length of a queue.");
    const result = checkExpression(text, scopes.withoutEntity, type);
    if (!result.ok)
      return refuse(
        result.problems[0].message,
        result.problems[0].hint,
        result.problems[0].start,
        result.problems[0].end,
      );
    if (result.checked.draws)
      return refuse("a display only reads; random draws would change the run.", "Leave the distribution out.");
    if (!["number", "yesNo"].includes(result.checked.type.kind)) return refuse("a number is wanted.");
    return result.checked;
  };
  const values =
    "rows" in display
      ? display.rows.map((row, i) => read(row.value, `rows.${i}`, row.label || `Row ${i + 1}`))
      : "value" in display
        ? [read(display.value, "value", display.title || `The ${display.kind}`)]
        : [];
  const span =
    display.kind === "chart" ? read(display.span, "span", "Time shown", numberOf(TIME))?.constant : undefined;
  return { display, values, span };
}
