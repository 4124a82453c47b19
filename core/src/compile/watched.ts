import { kindOf } from "../elements/index.ts";
import type { Model } from "../model/model.ts";
import { Curve, type Steps } from "../statistics/curve.ts";
import type { LogLine, ReachedStep } from "../logic/logic.ts";
import type { Session } from "./session.ts";

/** Columns that a curve is drawn in at most. */
const COLUMNS = 140;
/** Seconds that a chart shows which does not say. */
const SPAN = 3600;

/** Lines of the log that are kept. */
const MOST_LOGGED = 200;

/** How many stand at a place over time. */
export interface LineCurve extends Steps {
  /** Index of the element. */
  readonly element: number;
}

/**
 * A session whose lines and charts are recorded event by event, so that they show the same however fast it is watched.
 * Recording reads only.
 */
export class Watched {
  private readonly lines: { readonly element: number; readonly curve: Curve }[];
  /** Of the values shown, those of charts. */
  private readonly charts: { readonly at: number; readonly curve: Curve }[] = [];

  /** What steps logged last. */
  readonly log: LogLine[] = [];
  /** The step at which it has stopped, until it goes on. */
  reached: ReachedStep | undefined;

  constructor(
    readonly session: Session,
    model: Model,
  ) {
    this.lines = model.nodes
      .filter(({ element }) => kindOf(element).hasLine)
      .map(({ index }) => ({ element: index, curve: new Curve(COLUMNS) }));
    session.watchSteps({
      log: (line) => {
        this.log.push(line);
        if (this.log.length > MOST_LOGGED) this.log.shift();
      },
      reached: (step) => (this.reached = step),
    });
    let at = 0;
    for (const { display, values, span } of model.displays)
      for (const _ of values) {
        if (display.kind === "chart")
          this.charts.push({ at, curve: new Curve(COLUMNS, span !== undefined && span > 0 ? span : SPAN) });
        at += 1;
      }
    this.record();
  }

  /** As the session's own, event by event; true, too, where a step stops it. */
  advanceTo(time: number, most = Infinity): boolean {
    const { session } = this;
    this.reached = undefined;
    for (let events = 0; events < most; events++) {
      const isThere = session.advanceTo(time, 1);
      this.record();
      if (isThere || this.reached) return true;
    }
    return false;
  }

  step(): void {
    this.reached = undefined;
    this.session.step();
    this.record();
  }

  /** The curves of the places where most have stood, at most so many. */
  longestLines(most: number): LineCurve[] {
    return this.lines
      .filter(({ curve }) => curve.max > 0)
      .sort((a, b) => b.curve.max - a.curve.max || a.element - b.element)
      .slice(0, most)
      .map(({ element, curve: { steps } }) => ({ element, ...steps }));
  }

  /** The curves of what charts show, by the value's position among all that is shown. */
  chartCurves(): ReadonlyMap<number, Steps> {
    return new Map(this.charts.map(({ at, curve }) => [at, curve.steps]));
  }

  private record(): void {
    const { session } = this;
    const { time } = session;
    for (const { element, curve } of this.lines) curve.record(time, session.countAt(element));
    for (const { at, curve } of this.charts) curve.record(time, session.shownAt(at));
  }
}
