import { EventEmitter } from "node:events";
import { availableParallelism } from "node:os";
import { join } from "node:path";
import { MessageChannel } from "node:worker_threads";
import { MOST_ROWS, type NewFigures, type RunSummary } from "@busy-harbor/core/contract";
import type { RunPrecision } from "@busy-harbor/core/experiments";
import type { Logger } from "pino";
import { Piscina } from "piscina";
import { storageFault } from "../store/faults.ts";
import type { RunStore, RunTask } from "../store/runs.ts";
import { type Active, isQuiet, isStopped, newActive, nextInTurn, stop, takePiece } from "./active.ts";
import { LiveFigures } from "./figures.ts";
import type { PackedResult, ReplicationJob } from "./job.ts";
import { PrecisionRule } from "./precisionRule.ts";
import { Teller } from "./teller.ts";

/** Milliseconds between two tries to keep what the disk did not take. */
const TRY_AGAIN = 2000;

/**
 * Carries out what is queued, replications side by side on worker threads, which experiments share evenly. Each
 * replication is stored as it ends; whatever is missing at the next start is run then, with the same numbers. When the
 * disk takes nothing, a run is held with the reason, and goes on by itself once it does.
 */
export class RunQueue {
  private readonly pool: Piscina;
  private readonly active: Active[] = [];
  private readonly events = new EventEmitter();
  private readonly ends = new EventEmitter();
  private readonly figures = new LiveFigures();
  private readonly teller: Teller;
  private readonly going = new Set<Promise<void>>();
  private working = 0;
  private taken = 0;
  private closing = false;

  constructor(
    private readonly store: RunStore,
    private readonly log: Logger,
    workerFile: URL,
    /** Where observations of runs are written, a folder each. */
    private readonly observations: string,
    private readonly threads = availableParallelism(),
  ) {
    this.pool = new Piscina({ filename: workerFile.href, minThreads: 0, maxThreads: threads, idleTimeout: 30_000 });
    this.events.setMaxListeners(0);
    this.teller = new Teller(async (id) => {
      const summary = await this.store.summary(id);
      this.events.emit(summary.studyId, summary);
    }, log);
  }

  /** Takes up the runs that the last stop interrupted. */
  async resume(): Promise<void> {
    for (const id of await this.store.unfinished()) this.add(id);
  }

  add(id: string): void {
    // Known before anything else, so that a run can be stopped from its first instant on.
    const active = newActive(id);
    this.active.push(active);
    this.go(active, async () => {
      const task = await this.store.task(id);
      active.task = task;
      if (task.precision) await this.beginRule(active, task.precision);
      else active.missing = Array.from({ length: task.replications }, (_, i) => i + 1);
      active.missing = active.missing.filter((r) => !task.finished.has(r));
      await this.endIfOver(active);
    });
  }

  /** Stops a run; its finished replications stay. */
  async cancel(id: string): Promise<void> {
    const active = this.active.find((a) => a.id === id);
    if (!active) return;
    stop(active);
    if (active.task) await this.endIfOver(active);
  }

  /** Calls back with changes of runs of the study, each run at most five times a second; returns how to stop that. */
  onChange(studyId: string, listener: (run: RunSummary) => void): () => void {
    this.events.on(studyId, listener);
    return () => this.events.off(studyId, listener);
  }

  /** Calls back with the experiment of each point that is over, whatever ended it. */
  onEnd(listener: (experimentId: string) => void): void {
    this.ends.on("end", listener);
  }

  /** Something was said of a run: those who follow its study are told. */
  tell(id: string): void {
    this.teller.tell(id);
  }

  /** Calls back with what is new of the figures of a run; returns how to stop that. */
  onFigures(id: string, listener: (figures: NewFigures) => void): () => void {
    return this.figures.follow(id, listener);
  }

  /** Stops work and leaves unfinished runs to the next start. */
  async close(): Promise<void> {
    this.closing = true;
    for (const active of this.active) stop(active);
    while (this.going.size > 0) await Promise.all(this.going);
    await this.pool.destroy();
    this.figures.close();
    await this.teller.close();
  }

  /** Does something for a run; an error of the program ends that run, and no other. Then free threads go on. */
  private go(active: Active, work: () => Promise<void>): void {
    const going: Promise<void> = work()
      .catch((error: unknown) => this.fail(active, error))
      .finally(() => {
        this.going.delete(going);
        this.dispatch();
      });
    this.going.add(going);
  }

  /** Gives free threads something to do. */
  private dispatch(): void {
    // One piece more than there are threads waits at hand, so that none is idle while another is made out.
    while (!this.closing && this.working <= this.threads) {
      const active = nextInTurn(this.active);
      if (!active) return;
      const { task } = active;
      active.lastTaken = ++this.taken;
      active.working += 1;
      this.working += 1;
      // A long run is one replication: whatever of it is missing, it is run from its start.
      const replications = task!.long ? [1] : takePiece(active, this.active, this.threads);
      if (task!.long) active.missing = [];
      this.go(active, async () => {
        try {
          await this.begin(active);
          if (!isStopped(active)) await this.runPiece(active, task!, replications);
        } finally {
          active.working -= 1;
          this.working -= 1;
        }
        await this.endIfOver(active);
      });
    }
  }

  private async begin(active: Active): Promise<void> {
    if (active.begun) return;
    active.begun = true;
    await this.persist(active, () => this.store.setState(active.id, "running"));
    this.teller.tell(active.id);
  }

  private async runPiece(active: Active, task: RunTask, replications: readonly number[]): Promise<void> {
    const { documentId, designId, seed } = task;
    // Read when its turn comes: an experiment of many points keeps no text of each in memory.
    const snapshot = await this.store.text(documentId);
    const job: ReplicationJob = {
      documentId,
      snapshot,
      designId,
      seed,
      replications,
      ...(task.observes ? { observations: join(this.observations, active.id) } : {}),
      rows: join(this.observations, active.id, "rows"),
      kept: join(this.observations, active.id, "kept"),
      stop: active.stop,
    };
    if (task.long) await this.runLong(active, job, task);
    else {
      const start = performance.now();
      const results = (await this.pool.run(job)) as PackedResult[];
      for (const result of results) this.take(active, task, result);
      if (results.length > 0) active.pace = (performance.now() - start) / results.length;
    }
  }

  /** A result has come, and is kept while its thread goes on to the next; one that failed ends the run. */
  private take(active: Active, task: RunTask, result: PackedResult): void {
    if (result.failure) {
      active.failure ??= { ...result.failure, replication: result.replication };
      stop(active);
      return;
    }
    if (task.finished.has(result.replication) || result.replication > active.until) return;
    active.unkept.push(result);
    if (!active.keeping) this.go(active, () => this.keep(active));
  }

  /** Keeps what has come of a run, all of it at a time, until nothing is left. */
  private async keep(active: Active): Promise<void> {
    active.keeping = true;
    try {
      while (active.unkept.length > 0) {
        const some = [...active.unkept];
        const isKept = await this.persist(active, async () => {
          for (const kept of await this.store.addReplications(active.id, some)) this.figures.add(active.id, kept);
        });
        // What came meanwhile stands behind those that are kept now; a run that was stopped gives up all.
        active.unkept.splice(0, isKept ? some.length : active.unkept.length);
        if (isKept) {
          const { rule } = active;
          for (const { replication, values } of rule ? some : [])
            rule!.add(
              replication,
              rule!.positions.map((m) => values[m]),
            );
          if (rule && active.until === Infinity && !isStopped(active)) await this.goByRule(active);
          this.teller.tell(active.id);
        }
        this.dispatch();
      }
    } finally {
      active.keeping = false;
    }
    await this.endIfOver(active);
  }

  /** Takes up what decides when a run to a precision stops, with what has ended of it before. */
  private async beginRule(active: Active, precision: RunPrecision): Promise<void> {
    active.rule = new PrecisionRule(precision);
    const { positions } = active.rule;
    for (let after = 0; ;) {
      const page = await this.store.columns(active.id, positions, after, MOST_ROWS);
      page.replications.forEach((r, i) =>
        active.rule!.add(
          r,
          page.values.map((column) => column[i] ?? Number.NaN),
        ),
      );
      if (page.replications.length < MOST_ROWS) break;
      after = page.replications[page.replications.length - 1];
    }
    await this.goByRule(active);
  }

  /** Asks a run's rule whether it may stop, or for which replications it wants. */
  private async goByRule(active: Active): Promise<void> {
    const { wanted, expected, isDone } = active.rule!.next();
    if (isDone) {
      active.until = wanted;
      active.missing = [];
    }
    for (let r = active.asked + 1; r <= wanted; r++) active.missing.push(r);
    active.asked = Math.max(active.asked, wanted);
    await this.persist(active, () => this.store.setExpected(active.id, expected));
    this.teller.tell(active.id);
  }

  private async endIfOver(active: Active): Promise<void> {
    if (isQuiet(active) && (active.missing.length === 0 || isStopped(active))) await this.end(active);
  }

  /** All batches are made by one job, and are kept as they end. */
  private async runLong(active: Active, job: ReplicationJob, task: RunTask): Promise<void> {
    const { port1, port2 } = new MessageChannel();
    const allCame = new Promise<void>((resolve) => {
      port1.on("message", (batch: PackedResult | undefined) => {
        if (batch) this.take(active, task, batch);
        else resolve();
      });
    });
    try {
      await this.pool.run({ ...job, long: { batches: task.replications, port: port2 } }, { transferList: [port2] });
      await allCame;
    } finally {
      port1.close();
    }
  }

  /**
   * Writes, as often as it takes: while the disk takes nothing the run is held. False when the run is stopped
   * meanwhile.
   */
  private async persist(active: Active, write: () => Promise<unknown>, evenIfStopped = false): Promise<boolean> {
    const { id } = active;
    for (;;) {
      try {
        await write();
        if (this.store.held.delete(id)) this.teller.tell(id);
        return true;
      } catch (error) {
        const fault = storageFault(error);
        if (!fault) throw error;
        if (this.store.held.get(id) !== fault) {
          this.log.warn({ err: error, run: id }, "run held");
          this.store.held.set(id, fault);
          this.teller.tell(id);
        }
        // What is not kept is run again at the next start, or was to be stopped anyway.
        for (let waited = 0; waited < TRY_AGAIN; waited += 100) {
          if (this.closing || (!evenIfStopped && isStopped(active))) return false;
          await new Promise((resolve) => setTimeout(resolve, 100));
        }
      }
    }
  }

  /** The run is over, by whatever ended it; one that the program's own end stopped waits for the next start. */
  private async end(active: Active): Promise<void> {
    if (active.ending) return;
    active.ending = true;
    const { id, failure } = active;
    if (failure || !this.closing) {
      const state = failure ? "failed" : isStopped(active) ? "cancelled" : "done";
      if (state === "done" && active.until < Infinity)
        await this.persist(active, () => this.store.trim(id, active.until), true);
      await this.persist(active, () => this.store.setState(id, state, failure), true);
    }
    this.forget(active);
  }

  private async fail(active: Active, error: unknown): Promise<void> {
    this.log.error({ err: error, run: active.id }, "run failed");
    stop(active);
    if (active.ending) return;
    active.ending = true;
    const failure = {
      code: "internal",
      message: "The run stopped by an error of the program.",
      time: 0,
      replication: 0,
    };
    await this.persist(active, () => this.store.setState(active.id, "failed", failure), true).catch((again: unknown) =>
      this.log.error({ err: again, run: active.id }, "the end of a run could not be kept"),
    );
    this.forget(active);
  }

  private forget(active: Active): void {
    const at = this.active.indexOf(active);
    if (at >= 0) this.active.splice(at, 1);
    this.store.held.delete(active.id);
    this.teller.tell(active.id, true);
    if (active.task && !this.closing) this.ends.emit("end", active.task.experimentId);
  }
}
