import { EventEmitter } from "node:events";
import { availableParallelism } from "node:os";
import { MessageChannel } from "node:worker_threads";
import type { ReplicationResult } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import type { Logger } from "pino";
import { Piscina } from "piscina";
import type { RunFailureOfReplication, RunStore, RunTask } from "../store/runs.ts";
import type { ReplicationJob } from "./job.ts";

/**
 * Carries out runs, one after the other, their replications side by side on
 * worker threads. Each replication is stored as it ends; whatever is missing at
 * the next start is run then, with the same numbers.
 */
export class RunQueue {
  private readonly pool: Piscina;
  private readonly waiting: string[] = [];
  private readonly events = new EventEmitter();
  private current: { readonly id: string; readonly stop: Int32Array } | undefined;
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
    const at = this.waiting.indexOf(id);
    if (at >= 0) {
      this.waiting.splice(at, 1);
      await this.finish(id, "cancelled");
    } else if (this.current?.id === id) {
      Atomics.store(this.current.stop, 0, 1);
    }
  }

  /** Calls back with every change of a run of the study; returns how to stop that. */
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
  }

  private async work(): Promise<void> {
    for (let id = this.waiting.shift(); id !== undefined && !this.closing; id = this.waiting.shift()) {
      try {
        await this.carryOut(await this.store.task(id));
      } catch (error) {
        this.log.error({ err: error, run: id }, "run failed");
        await this.finish(id, "failed", { code: "internal", message: "The run stopped by an error of the program.", time: 0, replication: 0 });
      }
    }
  }

  private async carryOut(task: RunTask): Promise<void> {
    const stop = new Int32Array(new SharedArrayBuffer(4));
    this.current = { id: task.id, stop };
    const missing = Array.from({ length: task.replications }, (_, i) => i + 1).filter((r) => !task.finished.has(r));
    let failure: RunFailureOfReplication | undefined;
    await this.store.setState(task.id, "running");
    await this.tell(task);
    /** Keeps a result; false when it is the end of the run. */
    const keep = async (result: ReplicationResult): Promise<boolean> => {
      if (result.failure) {
        failure ??= { ...result.failure, replication: result.replication };
        Atomics.store(stop, 0, 1);
        return false;
      }
      if (!task.finished.has(result.replication)) {
        await this.store.addReplication(task.id, result);
        await this.tell(task);
      }
      return true;
    };
    const job = (replication: number): ReplicationJob => ({ run: task.id, snapshot: task.snapshot, designId: task.designId, seed: task.seed, replication, stop });
    const lane = async () => {
      for (let replication = missing.shift(); replication !== undefined; replication = missing.shift()) {
        if (Atomics.load(stop, 0) === 1) return;
        const result = (await this.pool.run(job(replication))) as ReplicationResult | undefined;
        if (!result || !(await keep(result))) return;
      }
    };
    // A long run is one replication: whatever of it is missing, it is run from its start, and its batches are kept as they end.
    if (task.long && missing.length > 0) await this.runLong(job(1), task.replications, keep);
    else await Promise.all(Array.from({ length: this.threads }, lane));
    this.current = undefined;
    if (failure) await this.finish(task.id, "failed", failure);
    else if (Atomics.load(stop, 0) === 0) await this.finish(task.id, "done");
    else if (!this.closing) await this.finish(task.id, "cancelled");
  }

  private async runLong(job: ReplicationJob, batches: number, keep: (batch: ReplicationResult) => Promise<boolean>): Promise<void> {
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

  private async finish(id: string, state: "done" | "cancelled" | "failed", failure?: RunFailureOfReplication): Promise<void> {
    await this.store.setState(id, state, failure);
    await this.tell({ id });
  }

  private async tell({ id }: { readonly id: string }): Promise<void> {
    const summary = await this.store.summary(id);
    this.events.emit(summary.studyId, summary);
  }
}
