import { spawnSync } from "node:child_process";
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";

/*
 * A kind of element is known by its descriptor, its symbol, and a line in each of two registries. This adds one to a
 * copy of the sources, and looks for it everywhere.
 */

const root = process.cwd();
const tree = mkdtempSync(join(tmpdir(), "harbor-new-kind-"));
afterAll(() => rmSync(tree, { recursive: true, force: true }));
jest.setTimeout(180_000);

const DESCRIPTOR = `import { PLAIN } from "../expression/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import { count } from "../measures/spec.ts";
import { choice, reference, settings, time } from "../settings/setting.ts";
import { elementKind } from "./kind.ts";
import { WAY_OUT } from "./wayOut.ts";
import { fromWhere, strong, whereTo } from "./words.ts";

/** Weighs whatever passes. */
export const scale = elementKind({
  kind: "scale",
  label: "Scale",
  plural: "Scales",
  summary: "Weighs what passes.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  counts: "weighed",
  settings: settings({
    weighing: time("Weighing time", "Time to weigh one entity.", { initial: "uniform(1 min, 2 min)", draws: 10 }),
    prints: choice("Prints", "What it prints.", [["nothing", "nothing"], ["slip", "a slip"]], { told: "what it prints" }),
    tare: reference("entity type", "Tared for", "The entity type that it is set to.", { none: "any" }),
    ...WAY_OUT,
  }),
  sections: [{ title: "Weigh", of: ["weighing", "prints", "tare"] }],
  properties: { weighed: PLAIN },
  measures: { weighed: count("Weighed", "Entities that were weighed here.", { better: "more" }) },
  prepare(node, lowering, measured) {
    const weighed = lowering.meters.counter();
    measured.add("weighed", () => weighed.n);
    lowering.shown.count(node, () => weighed.total);
    return {
      readers: { weighed: () => weighed.total },
      lower() {
        const { kernel, network } = lowering;
        const duration = lowering.expressions.read(node, "weighing", 0);
        const place = lowering.places.of(node, "dwelling");
        const away = network.leave(node, network.blocking(node));
        const over = kernel.emit((token) => {
          kernel.pool.credit(token, PART.dwelling, kernel.clock);
          weighed.total += 1;
          return away;
        });
        network.enterBy(node, kernel.emit((token) => {
          kernel.pool.beginUntil(token, place, over, kernel.clock);
          kernel.delay(token, duration(token), EventClass.activityEnd, node.element.id, "weighing");
          return SUSPEND;
        }));
      },
    };
  },
  readBack: (node, { nodes }) => [
    "Weighs entities from ",
    ...fromWhere(node, nodes),
    " for ",
    strong(node.element.weighing),
    ".",
    ...whereTo(node, nodes),
  ],
  takesTime: () => true,
});
`;

const SYMBOL = `import { plaque } from "../shared.ts";
import type { Symbol } from "../symbol.ts";

export const scale: Symbol<"scale"> = {
  extent: () => ({ w: 14, h: 10 }),
  draw: (ctx) => plaque(ctx, 14, 10),
};
`;

/** Looks for the kind everywhere; what it finds goes out as JSON. */
const PROBE = `import { renderToStaticMarkup } from "react-dom/server";
import {
  assignStreams, compile, definitionOf, differences, kindOf, open, phraseText, readBack, readStudy, studyJsonSchema, measuresOf } from "@busy-harbor/core";
import { Dock } from "./web/src/build/Dock.tsx";
import { formOf } from "./web/src/build/settings/forms.tsx";
import { makeKit } from "./web/src/build/settings/kit.tsx";
import { extentOf } from "./web/src/floor/symbols/index.ts";
import { sheetsOf } from "./web/src/ledger/sheet.ts";
import { measuresPage } from "./scripts/docs/measuresPage.ts";

const design = {
  id: "d", name: "Yard",
  entityTypes: [{ id: "t", name: "Crate" }],
  elements: [
    { kind: "arrivals", id: "in", name: "In", at: [0, 0], entityType: "t", between: "10 min" },
    { kind: "scale", id: "w", name: "Bridge", at: [10, 0], tare: "t" },
    { kind: "departures", id: "out", name: "Out", at: [20, 0] },
  ],
  links: [{ id: "l1", from: "in", to: "w" }, { id: "l2", from: "w", to: "out" }],
};
const read = readStudy({ format: "busy-harbor-study", version: 1, name: "S", run: { length: "61 min" }, designs: [design] });
if (!read.ok) throw new Error(JSON.stringify(read.problems));
const { study } = read;
const [now] = study.designs;
const element = now.elements[1];
const { program, model, problems } = compile(study);
if (!program) throw new Error(JSON.stringify(problems));
const session = open(program, { seed: 1, replication: 1 });
session.advanceTo(session.length);
const other = structuredClone(now);
Object.assign(other.elements[1], { weighing: "3 min", prints: "slip", tare: "" });
const measures = measuresOf(program);
const at = measures.findIndex((m) => m.key === "w/weighed");
const kit = makeKit(element, now, study, model.nodes[1], []);
console.log(JSON.stringify({
  stream: assignStreams(study).designs[0].elements[1].streams,
  words: phraseText(readBack(model.nodes[1], model)),
  weighed: session.result().values[at],
  shown: [session.frame().counts[1], kindOf(element).counts],
  measure: [measures[at].label, definitionOf(measures[at])],
  page: /### Scales[^#]*/.exec(measuresPage())?.[0],
  sheet: sheetsOf(now).find((s) => s.id === "scale")?.columns.map((c) => c.label),
  differences: differences(now, other).map((d) => d.sentence),
  schema: JSON.stringify(studyJsonSchema()).includes("Time to weigh one entity."),
  dock: renderToStaticMarkup(<Dock />).includes("Weighs what passes."),
  card: renderToStaticMarkup(<>{formOf(kit)}</>),
  extent: extentOf(element),
}));
`;

function write(name: string, text: string): void {
  mkdirSync(dirname(join(tree, name)), { recursive: true });
  writeFileSync(join(tree, name), text);
}

/** Adds its import and its line to a registry. */
function register(file: string, importLine: string): void {
  const text = readFileSync(join(tree, file), "utf8");
  const added = text.replace(/\n {2}vehicle,\n\}/, "\n  vehicle,\n  scale,\n}");
  expect(added).not.toBe(text);
  write(file, importLine + added);
}

beforeAll(() => {
  for (const part of ["core/src", "web/src", "scripts/docs"])
    cpSync(join(root, part), join(tree, part), { recursive: true });
  // A package may be installed beside its workspace alone.
  for (const packages of ["node_modules", "web/node_modules"])
    if (existsSync(join(root, packages))) symlinkSync(join(root, packages), join(tree, packages));
  write("core/src/elements/scale.ts", DESCRIPTOR);
  write("web/src/floor/symbols/kinds/scale.ts", SYMBOL);
  register("core/src/elements/index.ts", 'import { scale } from "./scale.ts";\n');
  register("web/src/floor/symbols/index.ts", 'import { scale } from "./kinds/scale.ts";\n');
  write("probe.tsx", PROBE);
});

test("a new kind passes the compiler with one core file, one symbol, and a line in each of two registries", () => {
  const options = JSON.parse(readFileSync(join(root, "tsconfig.base.json"), "utf8")) as { compilerOptions: object };
  write(
    "tsconfig.json",
    JSON.stringify({
      compilerOptions: {
        ...options.compilerOptions,
        lib: ["ES2023", "DOM", "DOM.Iterable"],
        jsx: "react-jsx",
        types: ["vite/client"],
        allowImportingTsExtensions: true,
        paths: {
          "@busy-harbor/core": ["./core/src/index.ts"],
          "@busy-harbor/core/contract": ["./core/src/contract/index.ts"],
        },
      },
      include: ["core/src/elements/index.ts", "web/src/floor/symbols/index.ts"],
    }),
  );
  const { stdout, status } = spawnSync(
    process.execPath,
    [join(root, "node_modules/typescript/bin/tsc"), "-p", tree, "--noEmit"],
    {
      encoding: "utf8",
    },
  );
  expect(stdout).toBe("");
  expect(status).toBe(0);
});

test("it is in dock, ledger, card, differences, measures, docs, read-back, Watch and JSON Schema", () => {
  const bundle = `import { build } from "esbuild";
await build({
  entryPoints: ["${join(tree, "probe.tsx")}"], outfile: "${join(tree, "probe.cjs")}", bundle: true, platform: "node", format: "cjs",
  target: "node20", jsx: "automatic", logLevel: "error", loader: { ".svg": "text" },
  define: { "import.meta.url": "'file:///probe.cjs'" },
  alias: { "@busy-harbor/core": "${join(tree, "core/src/index.ts")}" },
  plugins: [{ name: "paths", setup: (on) => on.onResolve({ filter: /^@busy-harbor\\/core\\/\\w+$/ }, ({ path }) => ({ path: "${join(tree, "core/src")}/" + path.split("/")[2] + "/index.ts" })) }],
});`;
  const built = spawnSync(process.execPath, ["--input-type=module", "-e", bundle], { cwd: root, encoding: "utf8" });
  expect(built.stderr).toBe("");
  const { stdout, stderr } = spawnSync(process.execPath, [join(tree, "probe.cjs")], { cwd: tree, encoding: "utf8" });
  const found = JSON.parse(stdout || JSON.stringify({ stderr })) as Record<string, unknown>;
  expect(found).toMatchObject({
    stream: { weighing: expect.any(Number) as number, wayOut: expect.any(Number) as number },
    words: "Weighs entities from In for uniform(1 min, 2 min). Then on to Out.",
    weighed: 5,
    shown: [5, "weighed"],
    measure: ["Weighed", "Entities that were weighed here."],
    page: expect.stringContaining("| Weighed | `weighed` | Entities that were weighed here. | n | more |") as string,
    sheet: ["Name", "Weighing time", "Prints", "Tared for", "Way out", "Goes to", "Across", "Down", "Locked"],
    differences: [
      "Bridge: weighing time uniform(1 min, 2 min) becomes 3 min.",
      "Bridge: what it prints nothing becomes slip.",
      "Bridge: tared for Crate becomes nothing.",
    ],
    schema: true,
    dock: true,
    extent: { w: 14, h: 10 },
  });
  for (const words of ["Weigh", "Weighing time", "Prints", "nothing", "Tared for", "Crate"])
    expect(found.card).toContain(words);
});
