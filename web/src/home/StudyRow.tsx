import type { StudySummary } from "@busy-harbor/core/contract";
import { Download, Trash2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client.ts";
import { wholeStudyText } from "../state/wholeStudy.ts";
import { saveFile } from "../ui/saveFile.ts";
import { StudyPicture } from "./StudyPicture.tsx";
import { useGlance } from "./useGlance.ts";

/** A study in the list: its floor in small, its question, when it last ran and what it found. */
export function StudyRow({ study, onDelete }: { study: StudySummary; onDelete: () => void }) {
  const row = useRef<HTMLLIElement>(null);
  const isInSight = useInSight(row);
  const glance = useGlance(study.id, study.revision, isInSight);
  const { lastRun, found } = glance ?? {};
  return (
    <li ref={row} className="panel relative flex gap-4 p-3 hover:border-soft">
      <StudyPicture study={glance?.study} />
      <div className="min-w-0 grow">
        <div className="flex items-start gap-2">
          <h2 className="min-w-0 grow text-base">
            <Link to={`/study/${study.id}/build`} className="after:absolute after:inset-0">
              {study.name}
            </Link>
          </h2>
          <button
            className="button button-quiet relative px-1.5!"
            aria-label={`Export ${study.name}`}
            data-tip="Export the study file"
            onClick={() => void exportStudy(study.id)}
          >
            <Download size={15} />
          </button>
          <button
            className="button button-quiet relative px-1.5!"
            aria-label={`Delete ${study.name}`}
            data-tip="Delete"
            onClick={onDelete}
          >
            <Trash2 size={15} />
          </button>
        </div>
        {study.question && <p className="line-clamp-2 text-soft">{study.question}</p>}
        {lastRun && (
          <p className="line-clamp-2 pt-1" data-testid="last-run">
            Run {lastRun.number}, {when(lastRun.createdAt)}
            {found ? `. ${found}.` : `: ${lastRun.finished} of ${lastRun.settings.replications}.`}
          </p>
        )}
        <p className="pt-1 text-xs text-soft">
          {study.designs.length === 1 ? "1 design" : `${study.designs.length} designs`} ·{" "}
          {study.runs === 0 ? "not run yet" : study.runs === 1 ? "1 run" : `${study.runs} runs`} · changed{" "}
          {when(study.updatedAt)}
        </p>
      </div>
    </li>
  );
}

const when = (time: string): string =>
  new Date(time).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "numeric", minute: "2-digit" });

/** Whether something has come in sight; it stays so. */
function useInSight(ref: React.RefObject<HTMLElement | null>): boolean {
  const [isInSight, setInSight] = useState(false);
  useEffect(() => {
    const observer = new IntersectionObserver(
      (entries) => {
        if (!entries.some((e) => e.isIntersecting)) return;
        setInSight(true);
        observer.disconnect();
      },
      { rootMargin: "200px" },
    );
    observer.observe(ref.current!);
    return () => observer.disconnect();
  }, [ref]);
  return isInSight;
}

async function exportStudy(id: string): Promise<void> {
  const { study } = await api.study(id);
  saveFile(
    `${study.name
      .replace(/[^\p{L}\p{N}]+/gu, "-")
      .replace(/^-|-$/g, "")
      .toLowerCase()}.json`,
    await wholeStudyText(study),
    "application/json",
  );
}
