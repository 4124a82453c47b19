import type { Word } from "../lineDrawing.ts";
import { addBulge, arc, ellipseArc, spline } from "./curves.ts";
import type { Placement } from "./placement.ts";
import type { DxfRecord } from "./records.ts";

interface Corner {
  readonly x: number;
  readonly y: number;
  readonly bulge: number;
}

const DEGREE = Math.PI / 180;

/** Drawn on a plane seen from below, as mirrored blocks leave behind: x turns round. */
const fromAbove = (entity: DxfRecord, points: number[]): number[] =>
  entity.number(230, 1) < 0 ? points.map((v, i) => (i % 2 === 0 ? -v : v)) : points;

function through(corners: readonly Corner[], closed: boolean): number[] {
  if (corners.length === 0) return [];
  const points = [corners[0].x, corners[0].y];
  const legs = closed ? corners.length : corners.length - 1;
  for (let i = 0; i < legs; i++) {
    const next = corners[(i + 1) % corners.length];
    addBulge(points, corners[i].x, corners[i].y, next.x, next.y, corners[i].bulge);
  }
  return points;
}

/** Corners of a polyline whose points follow each other within one record. */
function cornersOf({ codes, values }: DxfRecord): Corner[] {
  const corners: { x: number; y: number; bulge: number }[] = [];
  codes.forEach((code, i) => {
    if (code === 10) corners.push({ x: Number.parseFloat(values[i]), y: Number.NaN, bulge: 0 });
    const last = corners.at(-1);
    if (last && code === 20) last.y = Number.parseFloat(values[i]);
    if (last && code === 42) last.bulge = Number.parseFloat(values[i]);
  });
  return corners;
}

/** Bits of an old-style polyline's and its vertices' flags (code 70). */
const CLOSED = 1;
const MESH = 16 | 64;
const CONTROL_POINT = 16;

const pairs = (xs: readonly number[], ys: readonly number[]) => xs.slice(0, ys.length).map((x, i) => ({ x, y: ys[i] }));
const flat = (points: ReadonlyArray<{ readonly x: number; readonly y: number }>): number[] =>
  points.flatMap(({ x, y }) => [x, y]);
const corner = (entity: DxfRecord, n: number) => ({ x: entity.number(10 + n), y: entity.number(20 + n) });

/**
 * The lines of an entity, each as x and y in turn, in its own coordinates; undefined for a kind that is not drawn as
 * lines.
 */
export function linesOf(entity: DxfRecord): number[][] | undefined {
  const flags = entity.number(70, 0);
  switch (entity.type) {
    case "LINE":
      return [flat([corner(entity, 0), corner(entity, 1)])];
    case "LWPOLYLINE":
      return [fromAbove(entity, through(cornersOf(entity), (flags & CLOSED) !== 0))];
    case "POLYLINE": {
      if ((flags & MESH) !== 0) return undefined;
      // Control points of a smoothed line are not on it.
      const on = entity.children.filter((v) => (v.number(70, 0) & CONTROL_POINT) === 0);
      return [
        fromAbove(
          entity,
          through(
            on.map((v) => ({ ...corner(v, 0), bulge: v.number(42, 0) })),
            (flags & CLOSED) !== 0,
          ),
        ),
      ];
    }
    case "CIRCLE":
      return [fromAbove(entity, arc(entity.number(10), entity.number(20), entity.number(40), 0, 2 * Math.PI))];
    case "ARC":
      return [
        fromAbove(
          entity,
          arc(
            entity.number(10),
            entity.number(20),
            entity.number(40),
            entity.number(50) * DEGREE,
            entity.number(51) * DEGREE,
          ),
        ),
      ];
    case "ELLIPSE":
      return [
        ellipseArc(
          entity.number(10),
          entity.number(20),
          [entity.number(11), entity.number(21)],
          entity.number(40),
          entity.number(41, 0),
          entity.number(42, 2 * Math.PI),
        ),
      ];
    case "SPLINE": {
      const control = pairs(entity.numbers(10), entity.numbers(20));
      const fitted = pairs(entity.numbers(11), entity.numbers(21));
      const weights = entity.numbers(41);
      return [
        spline(
          control,
          entity.number(71, 3),
          entity.numbers(40),
          weights.length === control.length ? weights : undefined,
        ) ?? flat(fitted.length > 1 ? fitted : control),
      ];
    }
    case "SOLID":
    case "TRACE": {
      // Its corners come in the order of a letter Z.
      const [a, b, c, d] = [0, 1, 2, 3].map((n) => corner(entity, n));
      return [fromAbove(entity, flat([a, b, Number.isFinite(d.x) ? d : c, c, a]))];
    }
    case "3DFACE":
      return [flat([0, 1, 2, 3, 0].map((n) => corner(entity, n)).filter((p) => Number.isFinite(p.x)))];
    default:
      return undefined;
  }
}

/** Longest text that is drawn. */
const MOST_LETTERS = 200;

/** An entity that is a text, where it stands; undefined for others. */
export function wordOf(entity: DxfRecord, [a, b, c, d, e, f]: Placement): Omit<Word, "layer" | "colour"> | undefined {
  if (entity.type !== "TEXT" && entity.type !== "MTEXT" && entity.type !== "ATTRIB") return undefined;
  const long = entity.type === "MTEXT";
  const at = corner(entity, 0);
  const along = corner(entity, 1);
  const turn = long && Number.isFinite(along.x) ? Math.atan2(along.y, along.x) : entity.number(50, 0) * DEGREE;
  const [dx, dy] = [Math.cos(turn), Math.sin(turn)];
  const size = entity.number(40, 0) * Math.sqrt(Math.abs(a * d - b * c));
  // A long text comes in pieces, the last under code 1.
  const text = plainText(
    long
      ? [...entity.values.filter((_, i) => entity.codes[i] === 3), entity.text(1) ?? ""].join("")
      : (entity.text(1) ?? ""),
  );
  const [x, y] = [a * at.x + c * at.y + e, b * at.x + d * at.y + f];
  if (!(size > 0) || text === "" || !Number.isFinite(x + y)) return undefined;
  return { x, y, size, turn: -Math.atan2(b * dx + d * dy, a * dx + c * dy), text };
}

const SIGNS: Readonly<Record<string, string>> = { c: "⌀", d: "°", p: "±", "%": "%" };

/** Text without the marks of its form: signs are written out, fonts and heights left out, lines joined. */
export function plainText(text: string): string {
  return text
    .replace(/%%([cdp%])/gi, (_, sign: string) => SIGNS[sign.toLowerCase()])
    .replace(/%%[uok]/gi, "")
    .replace(/\\U\+([0-9A-F]{4})/gi, (_, code: string) => String.fromCharCode(Number.parseInt(code, 16)))
    .replace(/\\P/g, " ")
    .replace(/\\[ACFHQTWfp][^;\\{}]*;/g, "")
    .replace(/\\[LlOoKk]/g, "")
    .replace(/\\~/g, " ")
    .replace(/\\S([^;]*);/g, "$1")
    .replace(/[{}]/g, "")
    .replace(/\\\\/g, "\\")
    .replace(/\s+/g, " ")
    .trim()
    .slice(0, MOST_LETTERS);
}
