import type { Logger } from "pino";
import type { RunStore } from "../store/runs.ts";
import type { RunQueue } from "./queue.ts";

/**
 * Carries selections of the best on: whenever all points of one are over, the next step is worked out from what has
 * been kept, and points that want more replications go on. A selection that was interrupted is taken up at the start.
 */
export class Selections {
  /** What is done for each experiment, one look after the other. */
  private readonly looking = new Map<string, Promise<void>>();

  constructor(
    private readonly store: RunStore,
    private readonly queue: RunQueue,
    private readonly log: Logger,
  ) {
    queue.onEnd((experimentId) => this.look(experimentId));
  }

  async resume(): Promise<void> {
    for (const id of await this.store.openSelections()) this.look(id);
  }

  /** Waits until no look is under way. */
  async close(): Promise<void> {
    await Promise.all(this.looking.values());
  }

  private look(id: string): void {
    const last = this.looking.get(id) ?? Promise.resolve();
    const now: Promise<void> = last
      .then(() => this.step(id))
      .catch((error: unknown) => this.log.error({ err: error, experiment: id }, "a selection could not go on"))
      .finally(() => this.looking.get(id) === now && this.looking.delete(id));
    this.looking.set(id, now);
  }

  private async step(id: string): Promise<void> {
    if (!(await this.store.isSelecting(id))) return;
    const { points, selectionState } = await this.store.experiment(id);
    // What was stopped or has failed waits for a person; what runs is looked at when it is over.
    if (!selectionState || points.some(({ state }) => state !== "done")) return;
    const { wanted, selected, problem } = selectionState;
    if (selected !== null || problem !== undefined) await this.store.setOutcome(id, selectionState);
    else
      for (const [i, point] of points.entries()) {
        if (wanted[i] <= point.finished) continue;
        await this.store.goOn(point.id, wanted[i]);
        this.queue.add(point.id);
      }
    for (const point of points) this.queue.tell(point.id);
  }
}
