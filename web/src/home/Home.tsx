import { type StudySummary } from "@busy-harbor/core/contract";
import { FileUp, Plus, RotateCcw } from "lucide-react";
import { useCallback, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Problem } from "@busy-harbor/core";
import { pathText } from "@busy-harbor/core";
import { api, ApiProblem } from "../api/client.ts";
import { emptyStudy } from "../state/edits.ts";
import { announce } from "../ui/announce.ts";
import { Mark } from "../ui/Mark.tsx";
import { ThemeChoice } from "../ui/ThemeChoice.tsx";
import { LivePreview } from "./LivePreview.tsx";
import { StudyRow } from "./StudyRow.tsx";

/** The studies: make, open, export, delete; and one of them in motion. */
export function Home() {
  const [studies, setStudies] = useState<StudySummary[]>();
  const [trouble, setTrouble] = useState<{ title: string; problems: readonly Problem[] }>();
  const navigate = useNavigate();
  const input = useRef<HTMLInputElement>(null);

  const refresh = useCallback(() => {
    api
      .studies()
      .then(setStudies, (error: unknown) =>
        setTrouble({ title: String(error instanceof Error ? error.message : error), problems: [] }),
      );
  }, []);
  useEffect(refresh, [refresh]);

  const open = async (study: unknown) => {
    setTrouble(undefined);
    try {
      const { id } = await api.openFile(study);
      void navigate(`/study/${id}/build`);
    } catch (error) {
      setTrouble({
        title: error instanceof Error ? error.message : String(error),
        problems: error instanceof ApiProblem ? (error.document.problems ?? []) : [],
      });
    }
  };

  const openFile = async (file: File) => {
    const text = await file.text();
    let data: unknown;
    try {
      data = JSON.parse(text);
    } catch (error) {
      setTrouble({
        title: `${file.name} is not a study file: it is not JSON text.`,
        problems: [
          {
            code: "not-json",
            severity: "error",
            path: [],
            message: String(error instanceof Error ? error.message : error),
            hint: "Choose a file that was exported from Busy Harbor.",
          },
        ],
      });
      return;
    }
    await open(data);
  };

  const remove = async (study: StudySummary) => {
    await api.remove(study.id);
    setStudies((list) => list?.filter((s) => s.id !== study.id));
    announce(`${study.name} deleted.`, false, { label: "Undo", run: () => void api.restore(study.id).then(refresh) });
  };

  const newName = () => {
    const names = new Set(studies?.map((s) => s.name));
    for (let n = 1; ; n++) {
      const name = n === 1 ? "New study" : `New study ${n}`;
      if (!names.has(name)) return name;
    }
  };

  const first = studies?.[0];
  return (
    <div className="min-h-full">
      <header className="flex h-[46px] items-center gap-3 border-b border-ink/60 bg-sheet px-3.5">
        <Mark size={22} />
        <span className="text-[14.5px] font-semibold">Busy Harbor</span>
        <span className="mr-auto text-soft">Build, watch, measure and compare models of systems that queue</span>
        <ThemeChoice />
      </header>
      <main className="mx-auto grid max-w-[2000px] grid-cols-[minmax(480px,1fr)_minmax(440px,1.1fr)] gap-6 p-6">
        <section>
          <div className="flex flex-wrap items-center gap-2 pb-4">
            <h1 className="mr-auto text-xl">Studies</h1>
            <button className="button button-main" onClick={() => void open(emptyStudy(newName()))}>
              <Plus size={14} /> New study
            </button>
            <button className="button" onClick={() => input.current?.click()}>
              <FileUp size={14} /> Open a file
            </button>
            <input
              ref={input}
              type="file"
              accept=".json,application/json"
              aria-label="Study file"
              className="sr-only"
              tabIndex={-1}
              onChange={(event) => {
                const file = event.target.files?.[0];
                event.target.value = "";
                if (file) void openFile(file);
              }}
            />
          </div>
          {trouble && (
            <div role="alert" className="mb-3 rounded-lg border border-buoy bg-warn px-4 py-3">
              <p className="font-semibold">{trouble.title}</p>
              <ul className="pt-1">
                {trouble.problems.slice(0, 8).map((p, i) => (
                  <li key={i}>
                    {p.path.length > 0 && <code className="mono">{pathText(p.path)}: </code>}
                    {p.message} {p.hint}
                  </li>
                ))}
              </ul>
              <button className="button mt-2" onClick={() => setTrouble(undefined)}>
                Dismiss
              </button>
            </div>
          )}
          {studies?.length === 0 && (
            <p className="text-base text-soft">No studies yet. Begin with a new one, or bring the demo back below.</p>
          )}
          <ul className="space-y-2.5">
            {studies?.map((study) => (
              <StudyRow key={study.id} study={study} onDelete={() => void remove(study)} />
            ))}
          </ul>
          <button
            className="button button-quiet mt-4 -ml-2 text-soft"
            onClick={() =>
              void api.resetDemo().then((list) => {
                setStudies(list);
                announce("The demo study is as it came.");
              })
            }
          >
            <RotateCcw size={14} /> Reset the demo studies
          </button>
        </section>
        {first && <LivePreview key={first.id} id={first.id} />}
      </main>
    </div>
  );
}
