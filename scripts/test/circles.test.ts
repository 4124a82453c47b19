import { existsSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join, relative } from "node:path";
import ts from "typescript";

const root = process.cwd();

function filesIn(folder: string): string[] {
  return readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.tsx?$/.test(entry.name))
    .map((entry) => join(entry.parentPath, entry.name));
}

/** Sets of files that import one another, be it only types (Tarjan 1972, strongly connected components). */
function circles(files: readonly string[], read: (file: string) => string): string[][] {
  const known = new Set(files);
  const importsOf = (file: string) =>
    ts
      .preProcessFile(read(file), true, true)
      .importedFiles.map(({ fileName }) => join(dirname(file), fileName))
      .filter((target) => known.has(target));
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const found: string[][] = [];
  const visit = (file: string): void => {
    index.set(file, index.size);
    low.set(file, index.get(file)!);
    stack.push(file);
    for (const target of importsOf(file)) {
      if (!index.has(target)) {
        visit(target);
        low.set(file, Math.min(low.get(file)!, low.get(target)!));
      } else if (stack.includes(target)) low.set(file, Math.min(low.get(file)!, index.get(target)!));
    }
    if (low.get(file) !== index.get(file)) return;
    const circle = stack.splice(stack.indexOf(file));
    if (circle.length > 1) found.push(circle);
  };
  for (const file of files) if (!index.has(file)) visit(file);
  return found;
}

test.each(["core/src", "cli/src", "web/src", "server/src"])("no files of %s import one another in a circle", (part) => {
  const files = filesIn(join(root, part));
  expect(files.length).toBeGreaterThan(3);
  expect(existsSync(files[0])).toBe(true);
  expect(circles(files, (f) => readFileSync(f, "utf8")).map((c) => c.map((f) => relative(root, f)))).toEqual([]);
});

test("a circle of types alone is found", () => {
  const texts: Record<string, string> = {
    "/a.ts": 'import type { B } from "./b.ts";\nexport type A = B[];',
    "/b.ts": 'import type { C } from "./c.ts";\nexport type B = C;',
    "/c.ts": 'import type { A } from "./a.ts";\nexport interface C { a: A }',
    "/d.ts": 'import type { A } from "./a.ts";\nexport type D = A;',
  };
  expect(circles(Object.keys(texts), (file) => texts[file]).map((c) => c.sort())).toEqual([
    ["/a.ts", "/b.ts", "/c.ts"],
  ]);
});
