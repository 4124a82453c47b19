import { groupBy } from "../groupBy.ts";
import { blockOf } from "./spreadsheet/address.ts";
import type { FilledRange } from "./spreadsheet/readWorkbook.ts";

/** Size of the drawing of a sheet, in pixels. */
const [WIDTH, HEIGHT] = [150, 84];

/** Where the filled ranges of a file stand on its sheets; a click chooses one, as the list of them does by keyboard. */
export function RangesDrawing({
  ranges,
  chosen,
  onChoose,
}: {
  ranges: readonly FilledRange[];
  chosen: number;
  onChoose: (range: number) => void;
}) {
  const placed = ranges.map((range, index) => ({ range, index, block: blockOf(range.address)! }));
  const sheets = [...groupBy(placed, ({ range }) => range.sheet)];
  return (
    <div className="flex gap-3 overflow-x-auto pt-1" aria-hidden data-testid="ranges-drawing">
      {sheets.map(([sheet, there]) => {
        const right = Math.max(...there.map(({ block }) => block.right));
        const bottom = Math.max(...there.map(({ block }) => block.bottom));
        const [x, y] = [WIDTH / right, HEIGHT / bottom];
        return (
          <figure key={sheet} className="shrink-0">
            <svg width={WIDTH} height={HEIGHT} className="rounded border border-line bg-sheet">
              {there.map(({ index, range: { address }, block: { left, top, right: to, bottom: down } }) => (
                <rect
                  key={address}
                  x={(left - 1) * x + 1}
                  y={(top - 1) * y + 1}
                  width={Math.max(4, (to - left + 1) * x - 2)}
                  height={Math.max(4, (down - top + 1) * y - 2)}
                  rx={2}
                  className={`cursor-pointer ${index === chosen ? "fill-action" : "fill-line hover:fill-soft"}`}
                  data-tip={address}
                  onClick={() => onChoose(index)}
                />
              ))}
            </svg>
            <figcaption className="max-w-[150px] truncate text-xs text-soft">{sheet}</figcaption>
          </figure>
        );
      })}
    </div>
  );
}
