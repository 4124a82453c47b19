import { compile, measuresOf, type Observe, observationTable, type Program, run, type Study } from "../src/index.ts";

/** The program of a study's first design, which has no problems. */
export function compiled(of: Study): Program {
  const { program, problems } = compile(of, of.designs[0].id);
  if (!program) throw new Error(JSON.stringify(problems));
  return program;
}

/** The measures of one replication that does not fail, by their keys. */
export function valuesOf(of: Study): ReadonlyMap<string, number> {
  const program = compiled(of);
  const { values, failure } = run(program, { seed: 3, replication: 1 })!;
  if (failure) throw new Error(failure.message);
  return new Map(measuresOf(program).map(({ key }, i) => [key, values[i]]));
}

/** When each entity left in it, in order. */
export function departuresOf(of: Study): number[] {
  const program = compiled(of);
  const table = observationTable(program.model);
  const left: number[] = [];
  const observe: Observe = (departed) => void left.push(Number(table.row(departed)[0]));
  run(program, { seed: 3, replication: 1, observe });
  return left;
}
