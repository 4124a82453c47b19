import { useStudy } from "../../state/study.ts";
import { announce } from "../../ui/announce.ts";
import { sayChanges } from "./changes.ts";
import { fetchLinked, linkedOf, sayFile } from "./fetchLinked.ts";
import { putRefreshed } from "./putRefreshed.ts";

/**
 * Reads the files of a design's tables that are to be read at the start of each run, and puts in what has changed, so
 * that the run keeps what it read. Returns why the run cannot start, if a file cannot be read.
 */
export async function readAtStart(designId: string): Promise<string | undefined> {
  const { history } = useStudy.getState();
  const design = history?.present.designs.find(({ id }) => id === designId);
  if (!history || !design) return undefined;
  const wanted = linkedOf(history.present, design).filter(({ link }) => link.atStart && link.folder !== "");
  const fetched = await Promise.all(wanted.map((table) => fetchLinked(table)));
  for (const one of fetched) {
    const from = `${one.before.name} is read from ${sayFile(one.before.link)} at the start of a run`;
    if (!one.ok) return `${from}, and cannot be. ${one.message}`;
    if (one.missing.length > 0) return `${from}, which has no column ${one.missing.join(", ")} any more.`;
  }
  const changed = fetched.filter((one) => one.ok && one.changes.length > 0);
  if (changed.length === 0) return undefined;
  putRefreshed("Read linked files", changed, designId);
  const said = changed.flatMap((one) => (one.ok ? [`${one.before.name}: ${sayChanges(one.changes)}`] : []));
  announce(`Read anew for the run. ${said.join("; ")}.`);
  return undefined;
}
