import { type Design, eventWords, type Problem, ruleTitle, type Study } from "@busy-harbor/core";
import { Plus } from "lucide-react";
import { useMemo } from "react";
import { useSearchParams } from "react-router";
import { Surfaces } from "../build/Surfaces.tsx";
import { UndoButtons } from "../build/UndoButtons.tsx";
import { useOfferOf } from "../commands/commandStore.ts";
import { groupBy } from "../groupBy.ts";
import { useCompiled } from "../state/compiled.ts";
import { SortableList } from "../ui/SortableList.tsx";
import { useDesign, useStudy } from "../state/study.ts";
import { addProcedure, isRule, moveRule, type Owner, ownerIn } from "./edits.ts";
import { OwnerEditor } from "./OwnerEditor.tsx";
import { ReadyMade } from "./ReadyMade.tsx";
import { READY_MADE } from "./readyMade.ts";

/** Procedures and rules of the design on screen. */
export default function Logic() {
  const study = useStudy((s) => s.history?.present);
  const design = useDesign();
  if (!study || !design) return null;
  return (
    <div className="flex min-h-0 grow flex-col">
      <Surfaces />
      <Page study={study} design={design} />
    </div>
  );
}

const NO_PROBLEMS: readonly Problem[] = [];
/** Group of its commands. */
const PROCEDURES = "Rules and procedures";

function Page({ study, design }: { study: Study; design: Design }) {
  const [params, setParams] = useSearchParams();
  const compilation = useCompiled();
  const problems = compilation?.problems ?? NO_PROBLEMS;
  const { procedures = [], rules = [] } = design;
  const asked = params.get("at");
  const shown = (asked === null ? undefined : ownerIn(design, asked)) ?? rules[0] ?? procedures[0];
  const show = (id: string) => setParams({ at: id }, { replace: true });
  const troubled = useMemo(() => new Set(problems.flatMap(({ id }) => id ?? [])), [problems]);
  const add = () => {
    let id = "";
    useStudy.getState().changeDesign("Add procedure", (d) => void (id = addProcedure(d)));
    show(id);
  };
  useOfferOf([
    { id: "logic.procedure", label: "Add a procedure", group: PROCEDURES, run: add },
    ...READY_MADE.map(({ label, about, make }) => ({
      id: `logic.rule.${label}`,
      label: `Add a rule: ${label.toLowerCase()}`,
      note: about,
      group: PROCEDURES,
      run: () => {
        let id = "";
        useStudy.getState().changeDesign(`Add rule: ${label.toLowerCase()}`, (d) => void (id = make(d)));
        show(id);
      },
    })),
  ]);
  const entry = (owner: Owner) => (
    <button
      key={owner.id}
      aria-current={owner.id === shown?.id}
      className={`flex w-full items-center gap-2 rounded-md px-2 py-1 text-left ${owner.id === shown?.id ? "bg-water font-medium" : "hover:bg-water"} ${isRule(owner) && owner.off ? "text-soft line-through" : ""}`}
      onClick={() => show(owner.id)}
    >
      <span className="min-w-0 grow truncate" data-tip={titleOf(owner, design)}>
        {shortTitle(owner, design)}
      </span>
      {troubled.has(owner.id) && (
        <span role="img" aria-label="has problems" className="h-2 w-2 shrink-0 rounded-full bg-buoy" />
      )}
    </button>
  );
  return (
    <div className="flex min-h-0 grow">
      <aside
        aria-label="Rules and procedures"
        className="flex w-[260px] shrink-0 flex-col overflow-y-auto border-r border-line p-4"
      >
        <h2 className="caps pb-1">Rules</h2>
        {[...groupBy(rules, (rule) => whoseEvents(rule.of, rule.at, design))].map(([whose, members]) => (
          <section key={whose} aria-label={whose}>
            <h3 className="px-2 pt-1 text-xs text-soft">{whose}</h3>
            <SortableList
              ids={members.map(({ id }) => id)}
              nameOf={(id) =>
                shortTitle(
                  members.find((rule) => rule.id === id)!,
                  design,
                )
              }
              onMove={(from, to) =>
                useStudy
                  .getState()
                  .changeDesign("Change the order of rules", (d) => moveRule(d, members[from].id, members[to].id))
              }
            >
              {(_, i, grip) =>
                members[i] && (
                  <div className="flex items-center gap-1">
                    <div className="min-w-0 grow">{entry(members[i])}</div>
                    {grip}
                  </div>
                )
              }
            </SortableList>
          </section>
        ))}
        <div className="py-1.5">
          <ReadyMade design={design} onMade={show} />
        </div>
        <h2 className="caps pt-3 pb-1">Procedures</h2>
        {procedures.map(entry)}
        <div className="flex py-1.5">
          <button className="button" onClick={add}>
            <Plus size={14} /> Procedure
          </button>
        </div>
        <div className="flex pt-2">
          <UndoButtons />
        </div>
      </aside>
      {shown ? (
        <OwnerEditor
          key={shown.id}
          owner={shown}
          study={study}
          design={design}
          compilation={compilation}
          onShow={show}
        />
      ) : (
        <main className="flex grow items-center justify-center p-8">
          <p className="max-w-md text-center text-base text-soft">
            A rule says what is done when something happens: when a crate comes in, every Monday, when a stock falls.
            Its steps read as sentences; a procedure is a list of steps with a name, which rules call. Add a rule on the
            left.
          </p>
        </main>
      )}
    </div>
  );
}

const titleOf = (owner: Owner, design: Design): string => (isRule(owner) ? ruleTitle(owner, design) : owner.name);

/** A rule stands under what it belongs to, so the event is enough. */
const shortTitle = (owner: Owner, design: Design): string => {
  if (!isRule(owner)) return owner.name;
  const words = owner.name || eventWords(owner, design);
  return words.charAt(0).toUpperCase() + words.slice(1);
};

/** Whose events a rule hears, as it is listed. */
function whoseEvents(of: string, at: string, design: Design): string {
  if (of === "system") return "The system";
  if (of === "entity type") return design.entityTypes.find(({ id }) => id === at)?.name ?? "An entity type";
  return of === "group" ? `Group ${at}` : (design.elements.find(({ id }) => id === at)?.name ?? "Nothing yet");
}
