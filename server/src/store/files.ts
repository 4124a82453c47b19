import { createHash } from "node:crypto";
import { HttpProblem, notFound } from "../api/problems.ts";
import type { Database } from "./database.ts";

/** Files that studies show, such as drawings, kept once each under the SHA-256 of their bytes. */
export class FileStore {
  constructor(private readonly db: Database) {}

  /** Keeps a file. Refuses bytes that are not those the id was made from, as after a broken upload. */
  async put(id: string, bytes: Buffer): Promise<void> {
    if (createHash("sha256").update(bytes).digest("hex") !== id) {
      throw new HttpProblem(422, "wrong-file", "The file is not the one its name says.", {
        detail: `Its SHA-256 is not ${id}. Send it again.`,
      });
    }
    await this.db.write(async (transaction) => {
      const kept = await this.db.models.files.count({ where: { id }, transaction });
      if (kept === 0) await this.db.models.files.create({ id, bytes }, { transaction });
    });
  }

  async get(id: string): Promise<Buffer> {
    const row = await this.db.models.files.findByPk(id);
    if (!row) throw notFound("file");
    return row.bytes;
  }
}
