/** A table of people by name, each with a pace. */
export const peopleTable = (unit: string, rows: readonly (readonly [name: string, pace: string])[]) => ({
  id: "t",
  name: "People",
  key: "name",
  columns: [
    { id: "name", name: "name", holds: "text" },
    { id: "pace", name: "pace", holds: "number", unit },
  ],
  rows,
});
