import { type Design, formatClock, type Frame, type Model, type Study } from "@busy-harbor/core";
import { useCallback, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client.ts";
import { useView } from "../floor/viewStore.ts";
import { compiled } from "../state/compiled.ts";
import { useWatch } from "../watch/useWatch.ts";
import { WatchFloor, type WatchFloorHandle } from "../watch/WatchFloor.tsx";

/** The study changed last, in motion: the page opens on something alive. */
export function LivePreview({ id }: { id: string }) {
  const [study, setStudy] = useState<Study>();
  useEffect(() => {
    let here = true;
    api.study(id).then(
      (stored) => here && setStudy(stored.study),
      () => undefined,
    );
    return () => void (here = false);
  }, [id]);
  const program = study && compiled(study, study.designs[0].id).program;
  return (
    <section
      aria-label="The latest study in motion"
      className="panel sticky top-6 flex h-[min(640px,calc(100vh-95px))] flex-col overflow-hidden"
    >
      {study && program && study.designs[0].elements.length > 0 ? (
        <Moving id={id} study={study} design={program.model.design} model={program.model} />
      ) : (
        <p className="m-auto max-w-xs text-center text-soft">
          {study ? `${study.name} cannot move yet: open it and finish its design.` : "Opening the latest study …"}
        </p>
      )}
    </section>
  );
}

function Moving({ id, study, design, model }: { id: string; study: Study; design: Design; model: Model }) {
  const floor = useRef<WatchFloorHandle>(null);
  const { size, fitAll } = useView();
  const still = window.matchMedia("(prefers-reduced-motion: reduce)").matches;
  const { frame } = useWatch(
    study,
    design,
    true,
    useCallback((f: Frame) => floor.current?.show(f), []),
    !still,
    30,
    model.length / 3,
  );
  useEffect(() => {
    // Fitted anew here; a stage fits for itself when it is opened.
    if (size.width > 0) fitAll("home", design, study.plan, { top: 10, right: 10, bottom: 10, left: 10 });
  }, [size.width, size.height, design, study.plan, fitAll]);
  return (
    <>
      <div className="relative min-h-0 grow">
        <WatchFloor study={study} design={design} model={model} ref={floor} />
      </div>
      <div className="flex items-center gap-4 border-t border-line px-4 py-2.5">
        <p className="min-w-0 grow">
          <span className="block truncate font-semibold">
            {study.name} · {design.name}
          </span>
          <span className="text-soft tabular-nums">
            {formatClock(model.days.wall(frame?.time ?? 0))}, 30 times faster than life
          </span>
        </p>
        <Link className="button" to={`/study/${id}/watch`}>
          Watch
        </Link>
        <Link className="button" to={`/study/${id}/compare`}>
          Compare
        </Link>
      </div>
    </>
  );
}
