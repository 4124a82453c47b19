import { frameSchema, type Study, type StudyFrame } from "@busy-harbor/core";
import { PeriodForm } from "../measure/PeriodForm.tsx";
import { useCompiled } from "../state/compiled.ts";
import { useDesign, useStudy } from "../state/study.ts";
import { Assumptions } from "./Assumptions.tsx";
import { DecidingMeasures } from "./DecidingMeasures.tsx";
import { DesignInWords } from "./DesignInWords.tsx";
import type { EditFrame } from "./edit.ts";

/** What is framed of a study that has said nothing yet. */
const NOTHING: StudyFrame = frameSchema.parse({});

/** The Frame stage: the question, what it is about and what decides it; the design on screen in words beside it. */
export function Frame() {
  const study = useStudy((s) => s.history?.present);
  const design = useDesign();
  const compilation = useCompiled();
  const change = useStudy((s) => s.change);
  if (!study || !design) return null;
  const frame = study.frame ?? NOTHING;
  const edit: EditFrame = (what, recipe, key) =>
    change(what, (s) => recipe((s.frame ??= frameSchema.parse({}))), key === undefined ? undefined : `frame/${key}`);
  return (
    <main className="min-w-0 grow overflow-y-auto">
      <div className="mx-auto grid max-w-[1500px] grid-cols-[minmax(0,1fr)_minmax(320px,30%)] gap-8 p-6">
        <div className="min-w-0 space-y-6">
          <section>
            <h1 className="pb-2 text-lg">
              <label htmlFor="question">The question</label>
            </h1>
            <textarea
              id="question"
              className="field text-base"
              rows={3}
              maxLength={4000}
              placeholder="What is to be decided, and for whom?"
              value={study.question}
              onChange={({ target }) =>
                change("Change the question", (s) => void (s.question = target.value), "question")
              }
            />
          </section>
          <Boundary frame={frame} edit={edit} />
          <DecidingMeasures study={study} frame={frame} compilation={compilation} edit={edit} />
          <Assumptions frame={frame} edit={edit} />
          <Period study={study} problems={compilation?.problems ?? []} />
        </div>
        <DesignInWords study={study} design={design} compilation={compilation} />
      </div>
    </main>
  );
}

function Boundary({ frame, edit }: { frame: StudyFrame; edit: EditFrame }) {
  const side = (key: "inside" | "outside", label: string, placeholder: string) => (
    <label className="block">
      <span className="block pb-1 font-semibold">{label}</span>
      <textarea
        className="field"
        rows={4}
        maxLength={4000}
        placeholder={placeholder}
        value={frame[key]}
        onChange={({ target }) => edit(`Change what is ${key}`, (f) => void (f[key] = target.value), key)}
      />
    </label>
  );
  return (
    <section aria-label="Boundary" className="grid grid-cols-2 gap-4">
      {side("inside", "Inside", "What the model has: places, people, rules")}
      {side("outside", "Outside", "What it leaves out, and why that does no harm")}
    </section>
  );
}

function Period({ study, problems }: { study: Study; problems: Parameters<typeof PeriodForm>[0]["problems"] }) {
  return (
    <section aria-labelledby="frame-period">
      <h2 id="frame-period" className="pb-1 font-semibold">
        The operating period
      </h2>
      <div className="max-w-sm">
        <PeriodForm study={study} problems={problems} />
      </div>
    </section>
  );
}
