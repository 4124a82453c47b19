import { placeValues } from "@busy-harbor/core/experiments";
import type { Logger } from "pino";
import { HttpProblem } from "../api/problems.ts";
import type { Documents } from "../documents/documents.ts";
import type { RunStore } from "../store/runs.ts";
import { searchStateOf } from "./keptSearch.ts";
import type { RunQueue } from "./queue.ts";

/**
 * Carries searches on: whenever all points of one are over, the next round is worked out from what has been kept; new
 * places become points, and points that want more replications go on. What was interrupted is taken up at the start.
 */
export class Searches {
  private readonly looking = new Map<string, Promise<void>>();

  constructor(
    private readonly store: RunStore,
    private readonly queue: RunQueue,
    private readonly documents: Documents,
    private readonly log: Logger,
  ) {
    queue.onEnd((experimentId) => void this.look(experimentId));
  }

  async resume(): Promise<void> {
    for (const id of await this.store.openSearches()) void this.look(id);
  }

  async close(): Promise<void> {
    await Promise.all(this.looking.values());
  }

  /** Stops a search: what runs of it, and the rounds that would come. */
  async stop(id: string): Promise<void> {
    await this.store.setStopped(id, true);
    // A round that is just being begun is let begin, so that its points are stopped too.
    await this.looking.get(id);
    for (const { id: point } of (await this.store.experiment(id)).points) await this.queue.cancel(point);
  }

  /** Has a search go on that was stopped. */
  async goOn(id: string): Promise<void> {
    await this.store.setStopped(id, false);
    for (const { id: point, state } of (await this.store.experiment(id)).points)
      if (state === "cancelled") {
        await this.store.goOn(point, undefined);
        this.queue.add(point);
      }
    await this.look(id);
  }

  /** Resolves when the next round is begun, or there is nothing to do. */
  look(id: string): Promise<void> {
    const last = this.looking.get(id) ?? Promise.resolve();
    const now: Promise<void> = last
      .then(() => this.step(id))
      .catch((error: unknown) => this.log.error({ err: error, experiment: id }, "a search could not go on"))
      .finally(() => this.looking.get(id) === now && this.looking.delete(id));
    this.looking.set(id, now);
    return now;
  }

  private async step(id: string): Promise<void> {
    const kept = await this.store.openSearch(id);
    if (!kept || kept.stopped) return;
    const { points } = await this.store.experiment(id);
    // What was stopped waits for a person; what runs is looked at when it is over.
    if (points.some(({ state }) => state !== "done" && state !== "failed")) return;
    const failed = points.find(({ state }) => state === "failed");
    const step = await this.store.searchStep(kept, points);
    if (failed || step.phase === "over") {
      const problem = failed && `${failed.name} stopped by a problem: ${failed.failure?.message ?? ""}`;
      await this.store.setOutcome(id, { ...searchStateOf(kept, step), ...(problem ? { problem } : {}) });
    } else {
      for (const [i, point] of points.entries()) {
        const { replications } = step.wanted[i];
        if (replications <= point.finished) continue;
        await this.store.goOn(point.id, replications);
        this.queue.add(point.id);
      }
      const text = await this.store.text(kept.hash);
      const fresh = [];
      for (const { point, replications } of step.wanted.slice(points.length)) {
        const values = placeValues(kept.search, point);
        try {
          fresh.push(await this.documents.readPlace(text, values, replications));
        } catch (error) {
          // A place that cannot be run ends the search, and is told: it would be asked for again and again.
          if (!(error instanceof HttpProblem)) throw error;
          const problem = [error.message, error.extras.problems?.[0]?.message].filter(Boolean).join(" ");
          return this.store.setOutcome(id, { ...searchStateOf(kept, step), problem });
        }
      }
      for (const added of await this.store.addPoints(id, kept.plan, fresh)) this.queue.add(added);
    }
    for (const point of points) this.queue.tell(point.id);
  }
}
