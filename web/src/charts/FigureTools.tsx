import { ClipboardCopy, Download } from "lucide-react";
import type { RefObject } from "react";
import { writeBlock } from "../grid/cells.ts";
import { announce } from "../ui/announce.ts";
import { savePng, saveSvg } from "../ui/saveFigure.ts";

/** Square pixels of the smallest drawing that is a chart. */
const LEAST_CHART = 10_000;

type Cells = readonly (readonly (string | number)[])[];

/** Writes rows to the clipboard as a spreadsheet takes them. */
export function copyRows(rows: Cells, what: string): void {
  navigator.clipboard.writeText(writeBlock(rows.map((row) => row.map(String)))).then(
    () => announce(`${what} ${rows.length === 2 ? "is" : "are"} on the clipboard.`),
    () => announce("The browser does not let this page write to the clipboard.", true),
  );
}

/** The chart that an element holds: the largest of its drawings, if it is no mere icon. */
function chartIn(holder: HTMLElement): SVGSVGElement | undefined {
  const size = (svg: SVGSVGElement) => svg.getBoundingClientRect().width * svg.getBoundingClientRect().height;
  const all = [...holder.querySelectorAll<SVGSVGElement>("svg")].filter((svg) => size(svg) > LEAST_CHART);
  return all.sort((a, b) => size(b) - size(a))[0];
}

/** The texts of all tables that an element holds, row by row. */
export const tablesIn = (holder: HTMLElement | null): string[][] =>
  [...(holder?.querySelectorAll("tr") ?? [])].map((row) =>
    [...row.querySelectorAll("th, td")].map((cell) => (cell.textContent ?? "").trim()),
  );

/** Takes a chart out: its numbers to the clipboard, its drawing as a file. */
export function FigureTools({
  name,
  drawn,
  numbers,
}: {
  name: string;
  /** What holds the drawing. */
  drawn: RefObject<HTMLElement | null>;
  numbers: () => Cells;
}) {
  const svg = () => drawn.current && chartIn(drawn.current);
  const save = (as: (name: string, svg: SVGSVGElement) => void | Promise<void>) => {
    const found = svg();
    if (!found) return announce("There is no drawing to save yet.", true);
    void Promise.resolve(as(name, found)).catch((error: unknown) =>
      announce(error instanceof Error ? error.message : String(error), true),
    );
  };
  return (
    <span className="flex gap-1">
      <button
        className="button px-2!"
        aria-label={`Numbers: copy those of ${name}`}
        onClick={() => {
          const rows = numbers();
          if (rows.length === 0) announce("There is no table of numbers here.", true);
          else copyRows(rows, "The numbers");
        }}
      >
        <ClipboardCopy size={14} /> Numbers
      </button>
      <button className="button px-2!" aria-label={`SVG of ${name}`} onClick={() => save(saveSvg)}>
        <Download size={14} /> SVG
      </button>
      <button className="button px-2!" aria-label={`PNG of ${name}`} onClick={() => save(savePng)}>
        <Download size={14} /> PNG
      </button>
    </span>
  );
}
