/** Keeps words on the floor from covering one another: who comes first gets the place. */
export class LabelSpace {
  /** Taken stretches by strip of the screen. */
  private readonly strips = new Map<number, [left: number, right: number][]>();

  /** Takes the place of words of a width around (x, y), unless something stands there. */
  take(x: number, y: number, width: number): boolean {
    const [left, right] = [x - width / 2, x + width / 2];
    const [first, last] = stripsOf(y - HALF, y + HALF);
    for (let strip = first; strip <= last; strip++) {
      if (this.strips.get(strip)?.some(([l, r]) => l < right && left < r)) return false;
    }
    this.block(left, right, y - HALF, y + HALF);
    return true;
  }

  /** Takes a place that no words may cover, such as that of a symbol. */
  block(left: number, right: number, top: number, bottom: number): void {
    const [first, last] = stripsOf(top, bottom);
    for (let strip = first; strip <= last; strip++) {
      const taken = this.strips.get(strip);
      if (taken) taken.push([left, right]);
      else this.strips.set(strip, [[left, right]]);
    }
  }

  /** Takes the place of a bent line, with a little air. */
  blockLine(points: readonly (readonly [number, number])[]): void {
    for (let i = 1; i < points.length; i++) {
      const [x0, y0] = points[i - 1];
      const [x1, y1] = points[i];
      const [first, last] = stripsOf(Math.min(y0, y1), Math.max(y0, y1));
      for (let strip = first; strip <= last; strip++) {
        const [a, b] = [clamp(strip * STRIP, y0, y1), clamp((strip + 1) * STRIP, y0, y1)];
        const at = (y: number) => (y1 === y0 ? x0 : x0 + ((y - y0) / (y1 - y0)) * (x1 - x0));
        const [xa, xb] = y1 === y0 ? [x0, x1] : [at(a), at(b)];
        this.block(Math.min(xa, xb) - AIR, Math.max(xa, xb) + AIR, strip * STRIP, strip * STRIP);
      }
    }
  }
}

const clamp = (value: number, a: number, b: number) => Math.min(Math.max(a, b), Math.max(Math.min(a, b), value));

const stripsOf = (top: number, bottom: number): readonly [first: number, last: number] => [
  Math.floor(top / STRIP),
  Math.floor(bottom / STRIP),
];

/** Height of a strip of the screen, in pixels. */
const STRIP = 4;
/** Pixels kept free on either side of a line. */
const AIR = 2;
/** Half the height of words, in pixels. */
const HALF = 6;

const widths = new Map<string, number>();
const MOST = 5000;

/** Width of words in the context's font, remembered. */
export function widthOf(ctx: Pick<CanvasRenderingContext2D, "font" | "measureText">, words: string): number {
  const key = `${ctx.font} ${words}`;
  let width = widths.get(key);
  if (width === undefined) {
    if (widths.size >= MOST) widths.clear();
    widths.set(key, (width = ctx.measureText(words).width));
  }
  return width;
}
