/** The numbers behind a chart, in a box of their own. */
export function NumbersTable({
  label,
  head,
  rows,
}: {
  label: string;
  head: readonly string[];
  rows: readonly (readonly string[])[];
}) {
  return (
    // A box that scrolls is reached by the keyboard.
    <div className="mt-2 max-h-52 overflow-y-auto border-t border-line" tabIndex={0} role="region" aria-label={label}>
      <table className="border-separate border-spacing-x-3 text-right tabular-nums">
        <caption className="sr-only">{label}</caption>
        <thead className="sticky top-0 bg-sheet text-xs text-soft">
          <tr>
            {head.map((name, i) => (
              <th key={i} scope="col" className="pt-1 font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <tr key={i}>
              {row.map((cell, c) => (
                <td key={c}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
