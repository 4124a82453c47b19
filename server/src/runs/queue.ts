import { EventEmitter } from "node:events";
import { availableParallelism } from "node:os";
import { MessageChannel } from "node:worker_threads";
import type { ReplicationResult } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import type { Logger } from "pino";
import { Piscina } from "piscina";
import { storageFault } from "../store/faults.ts";
import type { RunFailureOfReplication, RunStore, RunTask } from "../store/runs.ts";
import type { ReplicationJob } from "./job.ts";
import { Teller } from "./teller.ts";

/** Milliseconds between two tries to keep what the disk did not take. */
const TRY_AGAIN = 2000;

interface Current {
  readonly id: string;
  readonly stop: Int32Array;
}

/**
 * Carries out runs, one after the other, their replications side by side on
 * worker threads. Each replication is stored as it ends; whatever is missing at
 * the next start is run then, with the same numbers. When the disk takes nothing, the run is held with the reason,
 * and goes on by itself once it does.
 */
export class RunQueue {
  private readonly pool: Piscina;
  private readonly waiting: string[] = [];
  private readonly events = new EventEmitter();
  private readonly teller: Teller;
  private current: Current | undefined;
  private closing = false;
  private loop: Promise<void> | undefined;

  constructor(
    private readonly store: RunStore,
    private readonly log: Logger,
    workerFile: URL,
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
    this.waiting.push(id);
    this.loop ??= this.work().finally(() => (this.loop = undefined));
  }

  /** Stops a run; its finished replications stay. */
  async cancel(id: string): Promise<void> {
    if (this.current?.id === id) {
      Atomics.store(this.current.stop, 0, 1);
      return;
    }
    const at = this.waiting.indexOf(id);
    if (at < 0) return;
    this.waiting.splice(at, 1);
    await this.store.setState(id, "cancelled");
    this.teller.tell(id);
  }

  /** Calls back with changes of runs of the study, each run at most five times a second; returns how to stop that. */
  onChange(studyId: string, listener: (run: RunSummary) => void): () => void {
    this.events.on(studyId, listener);
    return () => this.events.off(studyId, listener);
  }

  /** Stops work and leaves unfinished runs to the next start. */
  async close(): Promise<void> {
    this.closing = true;
    if (this.current) Atomics.store(this.current.stop, 0, 1);
    await this.loop;
    await this.pool.destroy();
    await this.teller.close();
  }

  private async work(): Promise<void> {
    for (let id = this.waiting.shift(); id !== undefined && !this.closing; id = this.waiting.shift()) {
      // Known before anything else, so that a run can be stopped from its first instant on.
      const current: Current = { id, stop: new Int32Array(new SharedArrayBuffer(4)) };
      this.current = current;
      try {
        await this.carryOut(await this.store.task(id), current);
      } catch (error) {
        this.log.error({ err: error, run: id }, "run failed");
        const failure = {
          code: "internal",
          message: "The run stopped by an error of the program.",
          time: 0,
          replication: 0,
        };
        await this.finish(current, "failed", failure).catch((again: unknown) =>
          this.log.error({ err: again, run: id }, "the end of a run could not be kept"),
        );
      }
      this.current = undefined;
    }
  }

  private async carryOut(task: RunTask, current: Current): Promise<void> {
    const { stop } = current;
    const missing = Array.from({ length: task.replications }, (_, i) => i + 1).filter((r) => !task.finished.has(r));
    let failure: RunFailureOfReplication | undefined;
    await this.persist(current, () => this.store.setState(task.id, "running"));
    this.teller.tell(task.id);
    /** Keeps a result; false when it is the end of the run. */
    const keep = async (result: ReplicationResult): Promise<boolean> => {
      if (result.failure) {
        failure ??= { ...result.failure, replication: result.replication };
        Atomics.store(stop, 0, 1);
        return false;
      }
      if (task.finished.has(result.replication)) return true;
      const kept = await this.persist(current, () => this.store.addReplication(task.id, result));
      this.teller.tell(task.id);
      return kept;
    };
    const job = (replication: number): ReplicationJob => ({
      run: task.id,
      snapshot: task.snapshot,
      designId: task.designId,
      seed: task.seed,
      replication,
      stop,
    });
    const lane = async () => {
      for (let replication = missing.shift(); replication !== undefined; replication = missing.shift()) {
        if (Atomics.load(stop, 0) === 1) return;
        const result = (await this.pool.run(job(replication))) as ReplicationResult | undefined;
        if (!result || !(await keep(result))) return;
      }
    };
    // A long run is one replication: whatever of it is missing, it is run from its start, and its batches are kept as
    // they end.
    if (task.long && missing.length > 0) await this.runLong(job(1), task.replications, keep);
    else await Promise.all(Array.from({ length: this.threads }, lane));
    if (failure) await this.finish(current, "failed", failure);
    else if (Atomics.load(stop, 0) === 0) await this.finish(current, "done");
    else if (!this.closing) await this.finish(current, "cancelled");
  }

  private async runLong(
    job: ReplicationJob,
    batches: number,
    keep: (batch: ReplicationResult) => Promise<boolean>,
  ): Promise<void> {
    const { port1, port2 } = new MessageChannel();
    let kept: Promise<unknown> = Promise.resolve();
    const allCame = new Promise<void>((resolve) => {
      port1.on("message", (batch: ReplicationResult | undefined) => {
        if (batch) kept = kept.then(() => keep(batch));
        else resolve();
      });
    });
    try {
      await this.pool.run({ ...job, long: { batches, port: port2 } }, { transferList: [port2] });
      await allCame;
    } finally {
      port1.close();
    }
    await kept;
  }

  /**
   * Writes, as often as it takes: while the disk takes nothing the run is held. False when the run is stopped
   * meanwhile.
   */
  private async persist({ id, stop }: Current, write: () => Promise<void>, evenIfStopped = false): Promise<boolean> {
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
          if (this.closing || (!evenIfStopped && Atomics.load(stop, 0) === 1)) return false;
          await new Promise((resolve) => setTimeout(resolve, 100));
        }
      }
    }
  }

  private async finish(
    current: Current,
    state: "done" | "cancelled" | "failed",
    failure?: RunFailureOfReplication,
  ): Promise<void> {
    await this.persist(current, () => this.store.setState(current.id, state, failure), true);
    this.store.held.delete(current.id);
    this.teller.tell(current.id);
  }
}
