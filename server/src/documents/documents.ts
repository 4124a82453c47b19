import type { Selection } from "@busy-harbor/core/contract";
import { Piscina } from "piscina";
import { HttpProblem } from "../api/problems.ts";
import type { Kept } from "../documentWorker.ts";
import type { PreparedRun, PreparedSave, PreparedScenario, PreparedSearch, PreparedStudy, Read } from "./prepared.ts";

/** Reads and writes documents on a thread of its own; what is wrong with one comes as an `HttpProblem`. */
export class Documents {
  private readonly pool: Piscina;

  constructor(worker: URL) {
    this.pool = new Piscina({ filename: worker.href, minThreads: 0, maxThreads: 1, idleTimeout: 60_000 });
  }

  readNew(bytes: Uint8Array): Promise<PreparedStudy> {
    return this.ask("readNew", bytes);
  }

  readSave(bytes: Uint8Array): Promise<PreparedSave> {
    return this.ask("readSave", bytes);
  }

  textOf(kept: Kept): Promise<string> {
    return this.ask("textOf", kept);
  }

  readRun(kept: Kept, request: unknown): Promise<PreparedRun> {
    return this.ask("readRun", { kept, request });
  }

  readScenario(kept: Kept, plan: string, scenario: string, selection?: Selection): Promise<PreparedScenario> {
    return this.ask("readScenario", { kept, plan, scenario, selection });
  }

  readSearch(kept: Kept, plan: string): Promise<PreparedSearch> {
    return this.ask("readSearchPlan", { kept, plan });
  }

  readPlace(text: string, values: Readonly<Record<string, string>>, replications: number): Promise<PreparedScenario> {
    return this.ask("readPlace", { text, values, replications });
  }

  close(): Promise<void> {
    return this.pool.destroy();
  }

  private async ask<T>(name: string, task: unknown): Promise<T> {
    const read = (await this.pool.run(task, { name })) as Read<T>;
    if (read.ok) return read.value;
    throw new HttpProblem(read.status, read.type, read.title, { problems: read.problems });
  }
}
