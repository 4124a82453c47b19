/**
 * A drawing of lines and words, ready to be painted: y downwards, in the drawing's own unit, from the middle of its
 * extent.
 */
export interface LineDrawing {
  readonly width: number;
  readonly height: number;
  /** Metres of its unit, if the file says. */
  readonly unit: number | undefined;
  readonly layers: readonly LayerInfo[];
  readonly chunks: readonly Chunk[];
  readonly words: readonly Word[];
  /** What was left out, in sentences. */
  readonly notes: readonly string[];
}

export interface LayerInfo {
  readonly name: string;
  /** Lines and words on it. */
  readonly count: number;
  /** Red, green and blue in the file, or `INK`. */
  readonly colour: number;
  /** Whether the file says to show it. */
  readonly shown: boolean;
}

/** Lines of one layer and colour that lie near each other. */
export interface Chunk {
  readonly layer: number;
  readonly colour: number;
  /** Left, top, right, bottom. */
  readonly box: readonly [number, number, number, number];
  /** x and y of all points, line after line. */
  readonly points: Float32Array;
  /** Where each line begins, in points, and at last the number of points. */
  readonly starts: Uint32Array;
}

export interface Word {
  readonly layer: number;
  readonly colour: number;
  readonly x: number;
  readonly y: number;
  /** Height of capitals, in the drawing's unit. */
  readonly size: number;
  /** Clockwise on the screen, in radians. */
  readonly turn: number;
  readonly text: string;
}

/** A line as it was read: y upwards, as in the file. */
export interface RawLine {
  readonly layer: number;
  readonly colour: number;
  readonly points: Float64Array;
}

const MOST_LINES = 64;
const MOST_POINTS = 1024;

/** Interleaves the bits of two 16-bit numbers (Morton 1966): near numbers are near in the plane. */
function morton(x: number, y: number): number {
  const spread = (n: number) => {
    let z = n & 0xffff;
    z = (z | (z << 8)) & 0x00ff00ff;
    z = (z | (z << 4)) & 0x0f0f0f0f;
    z = (z | (z << 2)) & 0x33333333;
    return (z | (z << 1)) & 0x55555555;
  };
  return (spread(x) | (spread(y) << 1)) >>> 0;
}

/** Sorts lines by layer, colour and place, and moves all to the middle of the extent. */
export function assemble(
  lines: readonly RawLine[],
  words: readonly Word[],
  about: Pick<LineDrawing, "unit" | "layers" | "notes">,
): LineDrawing {
  let [left, right, low, high] = [Infinity, -Infinity, Infinity, -Infinity];
  const take = (x: number, y: number) => {
    left = Math.min(left, x);
    right = Math.max(right, x);
    low = Math.min(low, y);
    high = Math.max(high, y);
  };
  for (const { points } of lines) for (let i = 0; i < points.length; i += 2) take(points[i], points[i + 1]);
  for (const { x, y } of words) take(x, y);
  const [cx, cy] = [(left + right) / 2, (low + high) / 2];
  const [width, height] = [right - left, high - low];
  const cell = 65535 / Math.max(width, height, Number.MIN_VALUE);
  const keyed = lines.map((line) => ({
    line,
    key: morton((line.points[0] - left) * cell, (line.points[1] - low) * cell),
  }));
  keyed.sort((a, b) => a.line.layer - b.line.layer || a.line.colour - b.line.colour || a.key - b.key);
  const chunks: Chunk[] = [];
  for (let from = 0; from < keyed.length;) {
    const { layer, colour } = keyed[from].line;
    let to = from;
    let count = 0;
    while (
      to < keyed.length &&
      to - from < MOST_LINES &&
      keyed[to].line.layer === layer &&
      keyed[to].line.colour === colour &&
      (to === from || count + keyed[to].line.points.length / 2 <= MOST_POINTS)
    ) {
      count += keyed[to].line.points.length / 2;
      to += 1;
    }
    chunks.push(
      chunk(
        keyed.slice(from, to).map(({ line }) => line),
        count,
        cx,
        cy,
      ),
    );
    from = to;
  }
  return { ...about, width, height, chunks, words: words.map((word) => ({ ...word, x: word.x - cx, y: cy - word.y })) };
}

function chunk(lines: readonly RawLine[], count: number, cx: number, cy: number): Chunk {
  const points = new Float32Array(2 * count);
  const starts = new Uint32Array(lines.length + 1);
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  let at = 0;
  lines.forEach((line, i) => {
    starts[i] = at / 2;
    for (let j = 0; j < line.points.length; j += 2) {
      const [x, y] = [line.points[j] - cx, cy - line.points[j + 1]];
      points[at++] = x;
      points[at++] = y;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
    }
  });
  starts[lines.length] = count;
  return { layer: lines[0].layer, colour: lines[0].colour, box: [left, top, right, bottom], points, starts };
}
