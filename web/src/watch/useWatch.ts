import type { Design, Frame, LogLine, ReachedStep, RunFailure, Study } from "@busy-harbor/core";
import { type Remote, wrap } from "comlink";
import { useCallback, useEffect, useRef, useState } from "react";
import type { WatchedCurves, WatchedFrame, Watcher } from "./session.worker.ts";

const NO_LINES: readonly LogLine[] = [];

/** As fast as the machine goes. */
export const FASTEST = Infinity;

/** Time between pictures for the clock and the instruments, in ms. */
const TELL_EVERY = 120;

/** Work of the thread a frame, in ms. */
const BUDGET = 12;

export interface Watching {
  readonly frame: Frame | undefined;
  readonly failure: RunFailure | undefined;
  /** What the displays show, as of `frame`. */
  readonly shown: Float64Array | undefined;
  /** What charts show, as of `frame`. */
  readonly curves: WatchedCurves | undefined;
  /** What steps logged last, and the step at which it has stopped. */
  readonly log: readonly LogLine[];
  readonly reached: ReachedStep | undefined;
  readonly playing: boolean;
  readonly speed: number;
  readonly replication: number;
  /** Scripting time of recent frames on this thread, in ms: the 95 % quantile. */
  readonly frameCost: () => number;
  play(on: boolean): void;
  setSpeed(speed: number): void;
  step(): void;
  /** Starts again, with the same replication or the next. */
  restart(replication?: number): void;
}

/**
 * Runs a watched replication in a web worker and hands on a picture a frame.
 * Watching has no influence on the numbers: the worker runs the same events in the
 * same order however the frames fall.
 */
export function useWatch(
  study: Study,
  design: Design,
  runnable: boolean,
  onFrame: (frame: Frame) => void,
  autoplay: boolean,
  startSpeed = 20,
  startAt = 0,
): Watching {
  const [state, setState] = useState<Partial<WatchedFrame>>({});
  const [playing, setPlaying] = useState(autoplay);
  const [speed, setSpeed] = useState(startSpeed);
  const [replication, setReplication] = useState(1);
  const [started, setStarted] = useState(0);
  const watcher = useRef<Remote<Watcher>>(undefined);
  const ready = useRef(false);
  const busy = useRef(false);
  const target = useRef(0);
  const show = useRef(onFrame);
  const costs = useRef<number[]>([]);
  const told = useRef(-Infinity);
  /** While nothing moves, every picture is told: figures and floor are of one instant. */
  const standing = useRef(false);
  useEffect(() => {
    show.current = onFrame;
  });

  const take = useCallback((picture: WatchedFrame) => {
    const start = performance.now();
    show.current(picture.frame);
    costs.current.push(performance.now() - start);
    if (costs.current.length > 240) costs.current.shift();
    // The rest of the screen needs no more than a few pictures a second: those with all there is to tell.
    if (picture.curves) {
      told.current = performance.now();
      setState(picture);
    }
    if (picture.frame.ended || picture.reached) setPlaying(false);
  }, []);
  /** Tells of the instant at which it has come to stand, once what goes on is done. */
  const lookNow = useCallback(() => {
    if (ready.current) void watcher.current!.look().then(take);
  }, [take]);

  useEffect(() => {
    ready.current = false;
    busy.current = false;
    told.current = -Infinity;
    setState({});
    if (!runnable) return;
    const worker = new Worker(new URL("./session.worker.ts", import.meta.url), { type: "module" });
    const remote = wrap<Watcher>(worker);
    watcher.current = remote;
    target.current = 0;
    let open = true;
    void remote.open(study, design.id, study.run.seed, replication).then(async (first) => {
      const picture = startAt > 0 ? await remote.advance(startAt, 500, true) : first;
      if (!open) return;
      target.current = picture.frame.time;
      ready.current = true;
      take(picture);
    });
    return () => {
      open = false;
      worker.terminate();
    };
    // The model as it was when watching began: edits made meanwhile count from the next start.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [design.id, replication, runnable, started]);

  useEffect(() => {
    if (!playing) return;
    let last = performance.now();
    let frame = requestAnimationFrame(function tick(now) {
      const elapsed = Math.min(100, now - last) / 1000;
      last = now;
      if (ready.current && !busy.current) {
        target.current = speed === FASTEST ? Infinity : target.current + elapsed * speed;
        busy.current = true;
        const tells = standing.current || now - told.current > TELL_EVERY;
        void watcher.current!.advance(target.current, BUDGET, tells).then((picture) => {
          busy.current = false;
          // What could not be done in time is not caught up in a rush.
          if (picture.frame.time < target.current || picture.reached) target.current = picture.frame.time;
          take(picture);
        });
      }
      frame = requestAnimationFrame(tick);
    });
    return () => cancelAnimationFrame(frame);
  }, [playing, speed, take]);

  return {
    frame: state.frame,
    failure: state.failure,
    shown: state.shown,
    curves: state.curves,
    log: state.log ?? NO_LINES,
    reached: state.reached,
    playing,
    speed,
    replication,
    frameCost: () => [...costs.current].sort((a, b) => a - b)[Math.floor(costs.current.length * 0.95)] ?? 0,
    play: (on) => {
      setPlaying(on);
      standing.current = !on;
      if (!on) lookNow();
    },
    setSpeed,
    step: () => {
      setPlaying(false);
      if (!ready.current || busy.current) return;
      busy.current = true;
      void watcher.current!.step().then((picture) => {
        busy.current = false;
        target.current = picture.frame.time;
        take(picture);
      });
    },
    restart: (next) => {
      if (next !== undefined && next !== replication) setReplication(next);
      else setStarted((n) => n + 1);
    },
  };
}
