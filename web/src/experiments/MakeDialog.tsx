import { type ExperimentPlan, MOST_SCENARIOS, type Study } from "@busy-harbor/core";
import {
  factorialRows,
  fractionRows,
  hypercubeRows,
  readLevels,
  type Rows,
  sweep,
  valueIn,
  valueOfWords,
  wordsOfValue,
} from "@busy-harbor/core/experiments";
import { fractionsOf } from "@busy-harbor/core/inference";
import { Dialog } from "radix-ui";
import { useMemo, useState } from "react";
import { Checkbox } from "../ui/Checkbox.tsx";
import { Choice } from "../ui/Choice.tsx";
import { ToggleGroup } from "../ui/ToggleGroup.tsx";
import { announce } from "../ui/announce.ts";
import type { ToldFactor } from "./columns.tsx";
import { putRows } from "./edits.ts";

type Way = "all" | "sweep" | "fraction" | "hypercube" | "table";

const WAYS: ReadonlyArray<readonly [Way, string]> = [
  ["all", "All combinations"],
  ["sweep", "One at a time"],
  ["fraction", "A fraction"],
  ["hypercube", "Spread over ranges"],
  ["table", "From a table"],
];

const HELP: Readonly<Record<Way, string>> = {
  all: "Full factorial: every level of each factor with every level of the others.",
  sweep: "Each factor goes through its levels while the others stay at their first.",
  fraction: "Fractional factorial of the first and the last level of each factor.",
  hypercube:
    "Latin hypercube: each factor's range, from its first to its last level, is cut into as many parts as there are scenarios, and each part is used once.",
  table: "Each row of a table is a scenario; its columns give the values of the factors.",
};

/** Makes scenarios from levels of the factors. */
export default function MakeDialog({
  study,
  experiment,
  factors,
  onClose,
}: {
  study: Study;
  experiment: ExperimentPlan;
  factors: readonly ToldFactor[];
  onClose: () => void;
}) {
  const [way, setWay] = useState<Way>("all");
  const [texts, setTexts] = useState(() => factors.map((told) => levelsNow(study, experiment, told)));
  const [p, setP] = useState(1);
  const [count, setCount] = useState("20");
  const [tableId, setTableId] = useState(study.tables[0]?.id ?? "");
  const [columns, setColumns] = useState<Readonly<Record<string, string>>>({});
  const used = useMemo(() => [...new Set(experiment.scenarios.map(({ design }) => design))], [experiment.scenarios]);
  const [designs, setDesigns] = useState<readonly string[]>(() => (used.length > 0 ? used : [study.designs[0].id]));
  const [replaces, setReplaces] = useState(experiment.scenarios.length <= 1);
  const table = study.tables.find(({ id }) => id === tableId);
  const columnOf = (told: ToldFactor): string =>
    columns[told.factor.id] ??
    table?.columns.find(({ name }) => name.toLowerCase() === told.title.toLowerCase())?.id ??
    "";
  const fractions = fractionsOf(factors.length);
  const read = texts.map(readLevels);
  const made = ((): Rows => {
    if (way === "table") {
      if (!table) return { ok: false, message: "The study has no table yet." };
      const places = factors.map((told) => table.columns.findIndex(({ id }) => id === columnOf(told)));
      if (places.every((c) => c < 0)) return { ok: false, message: "Choose a column for one factor at least." };
      return { ok: true, rows: table.rows.map((cells) => places.map((c) => (c < 0 ? "" : (cells[c] ?? "")))) };
    }
    if (read.some((r) => !r.ok)) return { ok: false, message: "" };
    const levels = read.map((r) => (r.ok ? r.levels : []));
    if (way === "all") return factorialRows(levels);
    if (way === "sweep") return sweep(levels);
    if (way === "fraction")
      return fractions.length === 0
        ? { ok: false, message: "Fractions are known of 3 to 8 factors." }
        : fractionRows(levels, fractions.includes(p) ? p : fractions[0]);
    const n = Number(count);
    if (!Number.isInteger(n) || n < 2) return { ok: false, message: "How many scenarios? Two at least." };
    return hypercubeRows(levels, n, study.run.seed);
  })();
  const total = made.ok ? made.rows.length * designs.length : 0;
  const room = MOST_SCENARIOS - (replaces ? 0 : experiment.scenarios.length);
  const refusal = !made.ok
    ? made.message
    : designs.length === 0
      ? "Choose a design at least."
      : total > room
        ? `That is ${total} scenarios, and there is room for ${room}.`
        : "";
  const make = () => {
    if (!made.ok || refusal !== "") return;
    const kept = made.rows.map((row) => row.map((text, f) => valueOfWords(factors[f], text)));
    putRows(experiment.id, kept, designs, replaces);
    announce(`${total} scenario${total === 1 ? "" : "s"} made.`);
    onClose();
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          data-testid="make-dialog"
          className="panel float fixed top-[10vh] left-1/2 z-50 max-h-[82vh] w-[min(680px,94vw)] -translate-x-1/2 overflow-y-auto p-5"
        >
          <Dialog.Title className="pb-2 text-base">Make scenarios</Dialog.Title>
          <form
            onSubmit={(event) => {
              event.preventDefault();
              make();
            }}
          >
            <ToggleGroup label="How" value={way} options={WAYS} onChange={setWay} />
            <p className="py-2 text-soft">{HELP[way]}</p>
            {way === "table" && table && (
              <label className="flex items-center gap-3 pb-2">
                <span className="w-52 shrink-0 text-soft">Table</span>
                <Choice
                  label="Table"
                  value={tableId}
                  options={study.tables.map(({ id, name }) => ({ value: id, label: name }))}
                  onChange={setTableId}
                />
              </label>
            )}
            {factors.map((told, f) => {
              const at = read[f];
              const id = `levels-${told.factor.id}`;
              return (
                <div key={told.factor.id} className="flex items-start gap-3 py-1">
                  <label htmlFor={id} className="w-52 shrink-0 truncate pt-1.5" data-tip={told.title} data-tip-cut="">
                    {told.title}
                  </label>
                  <span className="min-w-0 grow">
                    {way === "table" ? (
                      <Choice
                        id={id}
                        value={columnOf(told)}
                        options={[
                          { value: "", label: "as the design has it" },
                          ...(table?.columns ?? []).map((c) => ({ value: c.id, label: c.name })),
                        ]}
                        onChange={(column) => setColumns((before) => ({ ...before, [told.factor.id]: column }))}
                      />
                    ) : (
                      <input
                        id={id}
                        className="field mono"
                        spellCheck={false}
                        autoComplete="off"
                        aria-invalid={!at.ok}
                        value={texts[f]}
                        onChange={({ target }) =>
                          setTexts((before) => before.map((text, i) => (i === f ? target.value : text)))
                        }
                      />
                    )}
                    {way !== "table" && (
                      <span className={`block text-xs ${at.ok ? "text-soft" : "text-buoy-deep"}`}>
                        {at.ok ? `${at.levels.length} level${at.levels.length === 1 ? "" : "s"}` : at.message}
                      </span>
                    )}
                  </span>
                </div>
              );
            })}
            {way !== "table" && (
              <p className="pb-2 pl-[220px] text-xs text-soft">
                Such as <span className="mono">2, 3, 4</span> or <span className="mono">60 s to 2 min by 15 s</span> or{" "}
                <span className="mono">10/h to 20/h in 5</span>
              </p>
            )}
            {way === "fraction" && fractions.length > 0 && (
              <label className="flex items-center gap-3 py-1">
                <span className="w-52 shrink-0 text-soft">How much of it</span>
                <Choice
                  label="How much of it"
                  value={String(fractions.includes(p) ? p : fractions[0])}
                  options={fractions.map((one) => ({
                    value: String(one),
                    label: `1/${2 ** one}, ${2 ** (factors.length - one)} scenarios`,
                  }))}
                  onChange={(text) => setP(Number(text))}
                />
              </label>
            )}
            {way === "hypercube" && (
              <label className="flex items-center gap-3 py-1">
                <span className="w-52 shrink-0 text-soft">Scenarios</span>
                <input
                  className="field mono w-28!"
                  inputMode="numeric"
                  value={count}
                  onChange={({ target }) => setCount(target.value)}
                />
              </label>
            )}
            <fieldset className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
              <legend className="sr-only">Designs</legend>
              <span className="w-52 shrink-0 text-soft">Designs</span>
              {study.designs.map(({ id, name }) => (
                <Checkbox
                  key={id}
                  className="flex items-center gap-2"
                  checked={designs.includes(id)}
                  onChange={(on) =>
                    setDesigns((before) =>
                      study.designs.map((d) => d.id).filter((one) => (one === id ? on : before.includes(one))),
                    )
                  }
                >
                  {name}
                </Checkbox>
              ))}
            </fieldset>
            <Checkbox className="flex items-center gap-2 py-1" checked={replaces} onChange={setReplaces}>
              In place of the {experiment.scenarios.length} there {experiment.scenarios.length === 1 ? "is" : "are"}
            </Checkbox>
            <p role="status" className="pt-2" data-testid="to-make">
              {refusal !== "" ? (
                <span className="text-buoy-deep">{refusal}</span>
              ) : (
                made.ok && (
                  <>
                    {total} scenario{total === 1 ? "" : "s"}
                    {designs.length > 1 && `, ${made.rows.length} of each design`}.
                    {made.resolution !== undefined && ` ${resolutionWords(made.resolution)} ${generatorWords(made)}`}
                  </>
                )
              )}
            </p>
            <div className="flex justify-end gap-2 pt-3">
              <button type="button" className="button" onClick={onClose}>
                Cancel
              </button>
              <button className="button button-main" disabled={!made.ok || refusal !== ""}>
                Make {total > 0 ? total : ""}
              </button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** The levels that the rows have now, or what the design says. */
function levelsNow(study: Study, { scenarios }: ExperimentPlan, told: ToldFactor): string {
  const values = scenarios.map((s) => wordsOfValue(told, valueIn(study, told.factor, s)));
  return [...new Set(values)].slice(0, 12).join(", ");
}

const RESOLUTIONS: Readonly<Record<number, string>> = {
  3: "Resolution III: no main effect is mixed up with another, but each is with interactions of two factors.",
  4: "Resolution IV: main effects stand clear of interactions of two factors, which are mixed up with one another.",
  5: "Resolution V: main effects and interactions of two factors stand clear of one another.",
};
const resolutionWords = (resolution: number): string =>
  RESOLUTIONS[resolution] ?? `Resolution ${resolution}: interactions of two factors stand clear of one another.`;

const generatorWords = ({ generators = [] }: { readonly generators?: readonly string[] }): string =>
  `Factors by letters in their order: ${generators.join(", ")}.`;
