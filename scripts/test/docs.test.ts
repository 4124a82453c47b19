import { readFileSync } from "node:fs";
import { join } from "node:path";
import { measureRegistry } from "../../core/src/index.ts";
import { measuresPage } from "../docs/measuresPage.ts";

test("docs/measures.md is what npm run docs makes", () => {
  expect(readFileSync(join(process.cwd(), "docs/measures.md"), "utf8")).toBe(measuresPage());
});

test("every measure has a definition and a formula", () => {
  const lacking = [...measureRegistry].flatMap(([kind, measures]) =>
    Object.entries(measures).flatMap(([id, { definition, formula, label }]) =>
      definition.trim() && formula.trim() && label.trim() ? [] : [`${kind}/${id}`],
    ),
  );
  expect(lacking).toEqual([]);
});
