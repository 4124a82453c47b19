import { type Compilation, type Design, type Problem, ruleTitle, type Study } from "@busy-harbor/core";
import { Power, Trash2 } from "lucide-react";
import { useState } from "react";
import { NameRow, TextRow } from "../build/fields.tsx";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { deleteOwner, isRule, type Owner, ownerIn } from "./edits.ts";
import { ProcedureHead } from "./ProcedureHead.tsx";
import { RuleHead } from "./RuleHead.tsx";
import { StepHelp } from "./StepHelp.tsx";
import { ofNoStep } from "./StepLine.tsx";
import { StepsEditor } from "./StepsEditor.tsx";
import { WhereUsed } from "./WhereUsed.tsx";

/** A rule or a procedure: when it acts or what it asks for, and its steps. */
export function OwnerEditor({
  owner,
  study,
  design,
  compilation,
  onShow,
}: {
  owner: Owner;
  study: Study;
  design: Design;
  compilation: Compilation | undefined;
  onShow: (id: string) => void;
}) {
  const [kind, setKind] = useState<string>();
  const { changeDesign, undo } = useStudy.getState();
  const problems = compilation?.problems.filter((p) => p.id === owner.id) ?? [];
  const rule = isRule(owner) ? owner : undefined;
  const title = rule ? ruleTitle(rule, design) : owner.name;
  const edit = (what: string, key: string, recipe: (owner: Owner) => void) =>
    changeDesign(
      what,
      (draft) => {
        const target = ownerIn(draft, owner.id);
        if (target) recipe(target);
      },
      `${owner.id}/${key}`,
    );
  const remove = () => {
    changeDesign(`Delete ${title}`, (draft) => deleteOwner(draft, owner.id));
    announce(rule ? "Rule deleted." : "Procedure deleted.", false, { label: "Undo", run: undo });
  };
  return (
    <>
      <main className="min-w-0 grow overflow-y-auto px-6 py-4" aria-label={title}>
        <div className="flex items-start gap-2">
          <div className="min-w-0 grow">
            {rule ? (
              <RuleHead rule={rule} study={study} design={design} problems={problems} edit={edit} />
            ) : (
              <NameRow
                label="Procedure"
                name="procedure-name"
                value={owner.name}
                problems={problems.filter((p) => p.field === "name")}
                onChange={(name) => edit("Rename procedure", "name", (o) => void (o.name = name))}
              />
            )}
            {!isRule(owner) && <ProcedureHead procedure={owner} study={study} edit={edit} />}
            <TextRow
              label="Note"
              name="logic-note"
              mono={false}
              value={owner.note}
              placeholder="What it is for"
              problems={[]}
              onChange={(note) => edit("Change note", "note", (o) => void (o.note = note))}
            />
          </div>
          {rule && (
            <button
              className="button px-2!"
              aria-pressed={rule.off === true}
              aria-label={rule.off ? "Switch the rule on" : "Switch the rule off"}
              data-tip={rule.off ? "Switched off: it does nothing" : "Switch it off"}
              onClick={() =>
                edit(rule.off ? "Switch rule on" : "Switch rule off", `off/${!rule.off}`, (o) => {
                  if (!isRule(o)) return;
                  if (o.off) delete o.off;
                  else o.off = true;
                })
              }
            >
              <Power size={14} />
            </button>
          )}
          <button
            className="button px-2!"
            aria-label={rule ? "Delete the rule" : "Delete the procedure"}
            data-tip={rule ? "Delete the rule" : "Delete the procedure"}
            onClick={remove}
          >
            <Trash2 size={14} />
          </button>
        </div>
        <OwnProblems problems={ofNoStep(problems)} />
        <h3 className="caps mt-2 border-t border-line pt-3 pb-1">{rule ? "Then" : "Steps"}</h3>
        <StepsEditor owner={owner} design={design} compilation={compilation} problems={problems} onShowKind={setKind} />
      </main>
      <aside aria-label="Help on steps" className="w-[250px] shrink-0 overflow-y-auto border-l border-line px-4 py-3">
        <StepHelp kind={kind} />
        {!rule && <WhereUsed procedure={owner.id} design={design} onShow={onShow} />}
      </aside>
    </>
  );
}

function OwnProblems({ problems }: { problems: readonly Problem[] }) {
  const shown = problems.filter((p) => p.field !== "name");
  if (shown.length === 0) return null;
  return (
    <ul className="py-1 text-xs text-buoy-deep">
      {shown.map((p) => (
        <li key={`${p.code}${p.message}`}>
          {p.message} {p.hint && <span className="text-ink">{p.hint}</span>}
        </li>
      ))}
    </ul>
  );
}
