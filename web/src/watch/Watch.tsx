import { type Design, formatClock, type Frame, type Model, type Study } from "@busy-harbor/core";
import { Pause, Play, RotateCcw, SkipForward, StepForward } from "lucide-react";
import { useCallback, useEffect, useRef, useState } from "react";
import { FloorDisplays } from "../displays/FloorDisplays.tsx";
import { ScaleBar } from "../floor/ScaleBar.tsx";
import { useView } from "../floor/viewStore.ts";
import { ProblemList } from "../build/ProblemList.tsx";
import { useGoToProblem } from "../build/goToProblem.ts";
import { useOfferOf } from "../commands/commandStore.ts";
import { useCompiled } from "../state/compiled.ts";
import { useDesign, useStudy } from "../state/study.ts";
import { StepLog } from "./StepLog.tsx";
import { youngest } from "./following.ts";
import { Instruments } from "./Instruments.tsx";
import { LookCloser } from "./LookCloser.tsx";
import { useLook } from "./lookStore.ts";
import { FASTEST, useWatch } from "./useWatch.ts";
import { WatchFloor, type WatchFloorHandle } from "./WatchFloor.tsx";
import { Slider } from "../ui/Slider.tsx";

/** Speeds of the slider, in simulated seconds a second; the last is as fast as it goes. */
const SPEEDS = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, FASTEST];
const WATCHING = "Watch";
const INSETS = { top: 30, right: 350, bottom: 130, left: 30 };

/** The Watch stage: one replication in motion. */
export function Watch() {
  const study = useStudy((s) => s.history?.present);
  const design = useDesign();
  const compilation = useCompiled();
  const go = useGoToProblem();
  if (!study || !design || !compilation) return null;
  if (!compilation.program) {
    return (
      <div className="mx-auto w-full max-w-xl p-8">
        <h2 className="pb-3 text-lg">This design cannot be watched yet</h2>
        <ProblemList problems={compilation.problems} onGo={go} />
        <p className="text-soft">A click on a problem leads to its place.</p>
      </div>
    );
  }
  return (
    <WatchRunning
      key={design.id}
      study={study}
      design={compilation.program.model.design}
      model={compilation.program.model}
    />
  );
}

function WatchRunning({ study, design, model }: { study: Study; design: Design; model: Model }) {
  // Watching shows the model it was opened with; the stage is left to edit it.
  const [watched] = useState({ study, design, model });
  const studyId = useStudy((s) => s.id);
  const floor = useRef<WatchFloorHandle>(null);
  const { size, fitted, fitAll } = useView();
  const onFrame = useCallback((frame: Frame) => floor.current?.show(frame), []);
  const watching = useWatch(watched.study, watched.design, true, onFrame, true);
  const { frame, failure, playing, speed, replication, setSpeed } = watching;
  const chooseSpeed = useCallback((at: number) => setSpeed(SPEEDS[at]), [setSpeed]);
  const fitNow = () => {
    if (studyId) fitAll(studyId, design, study.plan, INSETS);
  };

  // Who is followed is of this replication.
  useEffect(() => () => useLook.setState({ followed: undefined, heat: false }), []);
  useEffect(() => {
    if (studyId && size.width > 0 && fitted !== studyId) fitAll(studyId, design, study.plan, INSETS);
  }, [studyId, size.width, fitted, fitAll, design, study.plan]);

  const restart = (next?: number) => {
    watching.restart(next);
    watching.play(true);
  };
  const ended = frame?.ended === true;
  const change = (by: 1 | -1) =>
    watching.setSpeed(SPEEDS[Math.min(SPEEDS.length - 1, Math.max(0, SPEEDS.indexOf(speed) + by))]);
  useOfferOf([
    {
      id: "play",
      label: playing ? "Pause" : ended ? "Watch again" : "Play",
      group: WATCHING,
      keys: ["Space"],
      yields: () => document.activeElement instanceof HTMLButtonElement,
      run: () => (ended ? restart() : watching.play(!playing)),
    },
    {
      id: "one-event",
      label: "One event",
      group: WATCHING,
      keys: ["."],
      refusal: () => (ended ? "The replication is over." : undefined),
      run: watching.step,
    },
    {
      id: "from-start",
      label: "From the start",
      group: WATCHING,
      keys: ["Home"],
      yields: () => document.activeElement?.matches("input") === true,
      run: () => restart(),
    },
    {
      id: "next-replication",
      label: "Next replication",
      group: WATCHING,
      keys: ["N"],
      run: () => restart(replication + 1),
    },
    {
      id: "faster",
      label: "Faster",
      group: WATCHING,
      keys: ["]"],
      refusal: () => (speed === FASTEST ? "It goes as fast as it can." : undefined),
      run: () => change(1),
    },
    {
      id: "slower",
      label: "Slower",
      group: WATCHING,
      keys: ["["],
      refusal: () => (speed === SPEEDS[0] ? "It goes at the speed of life." : undefined),
      run: () => change(-1),
    },
    {
      id: "follow-youngest",
      label: "Follow the youngest entity",
      group: WATCHING,
      keys: ["Y"],
      refusal: () => (frame && youngest(frame) ? undefined : "Nobody is there."),
      run: () => frame && useLook.getState().follow(youngest(frame)),
    },
    {
      id: "follow-nobody",
      label: "Follow nobody",
      group: WATCHING,
      keys: ["Escape"],
      yields: () => useLook.getState().followed === undefined,
      run: () => useLook.getState().follow(undefined),
    },
    {
      id: "heat",
      label: "Show traffic and use as heat",
      group: WATCHING,
      keys: ["H"],
      run: () => useLook.getState().setHeat(!useLook.getState().heat),
    },
    { id: "fit-watched", label: "Fit all", group: "View", keys: ["F"], run: fitNow },
  ]);
  const wall = model.days.wall(frame?.time ?? 0);
  const date = new Date(
    Date.parse(`${study.run.start.slice(0, 10)}T00:00:00Z`) + Math.floor(wall / 86_400) * 86_400_000,
  );
  const day = date.toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long", timeZone: "UTC" });
  const total = model.length;
  return (
    <div className="relative min-h-0 grow overflow-hidden">
      <WatchFloor study={watched.study} design={watched.design} model={watched.model} ref={floor} />
      <FloorDisplays
        study={watched.study}
        design={watched.design}
        model={watched.model}
        reading={{ time: frame?.time, values: watching.shown ?? [], curves: watching.curves?.charts }}
      />
      <div className="absolute top-3 right-3 flex max-h-[calc(100%-130px)] w-[330px] flex-col gap-3 overflow-y-auto">
        <StepLog log={watching.log} reached={watching.reached} design={watched.design} model={watched.model} />
        <LookCloser
          frame={frame}
          study={watched.study}
          design={watched.design}
          model={watched.model}
          heat={() => floor.current?.heat()}
        />
        <Instruments frame={frame} design={watched.design} model={watched.model} lines={watching.curves?.lines ?? []} />
      </div>
      <div className="absolute bottom-[112px] left-4">
        <ScaleBar units={study.units} onFit={fitNow} />
      </div>
      <section aria-label="Time" className="panel float absolute right-3 bottom-3 left-3 px-4 py-3">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
          <button
            className={`button ${playing ? "bg-ink! text-on-ink!" : "button-main"} w-24 justify-center`}
            onClick={() => (frame?.ended ? restart() : watching.play(!playing))}
            data-testid="play"
          >
            {playing ? <Pause size={14} /> : frame?.ended ? <RotateCcw size={14} /> : <Play size={14} />}
            {playing ? "Pause" : frame?.ended ? "Again" : "Play"}
          </button>
          <button className="button" onClick={watching.step} disabled={frame?.ended} data-tip="Run one event (.)">
            <StepForward size={14} /> One event
          </button>
          <button className="button" onClick={() => restart()} data-tip="Start again">
            <RotateCcw size={14} /> From the start
          </button>
          <button className="button" onClick={() => restart(replication + 1)}>
            <SkipForward size={14} /> Next replication
          </button>
          <p className="pl-3">
            <span
              className="text-lg font-semibold tabular-nums"
              data-testid="clock"
              data-seconds={frame?.time ?? 0}
              data-events={frame?.events ?? 0}
            >
              {formatClock(wall % 86_400)}
            </span>
            <span className="pl-3 text-soft">
              {day} · replication {replication} of seed {study.run.seed}
            </span>
          </p>
          <div className="ml-auto flex items-center gap-3 text-soft">
            Speed
            <Slider
              label="Speed"
              className="w-36"
              most={SPEEDS.length - 1}
              value={SPEEDS.indexOf(speed)}
              valueText={speedWords(speed)}
              onChange={chooseSpeed}
            />
            <span className="w-28 font-semibold text-ink" data-testid="speed">
              {speedWords(speed)}
            </span>
          </div>
        </div>
        <div
          className="mt-2 h-1.5 overflow-hidden rounded-full bg-water"
          role="progressbar"
          aria-label="Share of the run"
          aria-valuenow={Math.round(((frame?.time ?? 0) / total) * 100)}
        >
          <div
            className="h-full bg-action"
            style={{ width: `${Math.min(100, ((frame?.time ?? 0) / total) * 100)}%` }}
          />
        </div>
        {frame?.ended && !failure && (
          <p className="pt-2 text-soft">
            The replication has ended. One replication is one sample: Measure runs many and says how sure the figures
            are.
          </p>
        )}
        {failure && (
          <p role="alert" className="pt-2 text-buoy-deep">
            Stopped at {formatClock(model.days.wall(failure.time))}: {failure.message}{" "}
            <span className="text-ink">{failure.hint}</span>{" "}
            {failure.id && <GoTo id={failure.id} field={failure.field} designId={design.id} />}
          </p>
        )}
      </section>
      <span
        hidden
        data-testid="frame-cost"
        ref={(node) => void (node && Object.assign(node, { cost: watching.frameCost }))}
      />
    </div>
  );
}

function GoTo({ id, field, designId }: { id: string; field?: string; designId: string }) {
  const go = useGoToProblem();
  return (
    <button
      className="font-semibold text-action underline"
      onClick={() => go({ code: "", severity: "error", message: "", path: [], id, field, designId })}
    >
      Go to its place
    </button>
  );
}

const speedWords = (speed: number): string =>
  speed === FASTEST ? "as fast as it goes" : speed === 1 ? "real time" : `${speed} ×`;
