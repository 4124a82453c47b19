import { assemble, type LayerInfo, type LineDrawing, type RawLine, type Word } from "../lineDrawing.ts";
import { refuse } from "../problem.ts";
import { BY_BLOCK, BY_LAYER, INK, numberedColour } from "./colours.ts";
import { linesOf, wordOf } from "./entities.ts";
import { IDENTITY, placed, type Placement, then } from "./placement.ts";
import { type DxfRecord, eachRecord } from "./records.ts";

/** Metres of the units a header may name (its variable INSUNITS). */
const UNITS: Readonly<Record<number, number>> = {
  1: 0.0254,
  2: 0.3048,
  3: 1609.344,
  4: 0.001,
  5: 0.01,
  6: 1,
  7: 1000,
  8: 2.54e-8,
  9: 2.54e-5,
  10: 0.9144,
  14: 0.1,
};

const MOST_LINES = 1_000_000;
const MOST_POINTS = 12_000_000;
const MOST_INSERTS = 300_000;
const DEEPEST = 24;

interface Block {
  readonly base: readonly [number, number];
  readonly entities: DxfRecord[];
}

/**
 * Lines and words of a DXF file in text form, read in one pass. Throws a `DrawingProblem`
 * when it is broken, holds nothing to draw, or is made to fill the memory.
 */
export function readDxf(text: string, onProgress?: (share: number) => void): LineDrawing {
  const reader = new Reader();
  eachRecord(text, (record) => reader.take(record), onProgress);
  return reader.finish();
}

interface Layer {
  readonly name: string;
  readonly shown: boolean;
  readonly colour: number;
  count: number;
}

class Reader {
  private section = "";
  private unit: number | undefined;
  private readonly layers: Layer[] = [];
  private readonly layerIndex = new Map<string, number>();
  private readonly blocks = new Map<string, Block>();
  private block: Block | undefined;
  /** The old-style polyline whose vertices are coming. */
  private polyline: DxfRecord | undefined;
  private readonly lines: RawLine[] = [];
  private readonly words: Word[] = [];
  private readonly missing = new Set<string>();
  private readonly unread = new Map<string, number>();
  private points = 0;
  private inserts = 0;

  /** Takes the next record of the file. */
  take(record: DxfRecord): void {
    if (record.type === "VERTEX" && this.polyline) {
      this.polyline.children.push(record);
      return;
    }
    if (this.polyline) {
      this.takeEntity(this.polyline);
      this.polyline = undefined;
    }
    switch (record.type) {
      case "SECTION":
        this.section = record.text(2) ?? "";
        if (this.section === "HEADER") this.takeHeader(record);
        return;
      case "ENDSEC":
      case "SEQEND":
        return;
      case "BLOCK":
        this.block = { base: [record.number(10, 0), record.number(20, 0)], entities: [] };
        this.blocks.set(record.text(2) ?? "", this.block);
        return;
      case "ENDBLK":
        this.block = undefined;
        return;
      case "LAYER":
        if (this.section === "TABLES") this.takeLayer(record);
        return;
      case "POLYLINE":
        this.polyline = record;
        return;
      default:
        this.takeEntity(record);
    }
  }

  finish(): LineDrawing {
    if (this.lines.length + this.words.length === 0)
      return refuse(
        "The file holds no lines that can be drawn.",
        "Save the drawing with its contents, not as references to other files.",
      );
    const notes = [
      ...(this.missing.size > 0
        ? [
            `${this.missing.size === 1 ? "One block is" : `${this.missing.size} blocks are`} not in the file: ${[...this.missing].slice(0, 3).join(", ")}.`,
          ]
        : []),
      ...[...this.unread].map(([kind, count]) => `${count} of kind ${kind.toLowerCase()} cannot be drawn.`),
    ];
    const layers: LayerInfo[] = this.layers.map((layer) => ({ ...layer }));
    return assemble(this.lines, this.words, { unit: this.unit, layers, notes });
  }

  private takeHeader({ codes, values }: DxfRecord): void {
    const at = values.findIndex((value, i) => codes[i] === 9 && value === "$INSUNITS");
    if (at >= 0 && codes[at + 1] === 70) this.unit = UNITS[Number.parseInt(values[at + 1])];
  }

  private takeLayer(record: DxfRecord): void {
    const colour = record.number(62, 7);
    const frozen = (record.number(70, 0) & 1) === 1;
    // A negative colour is that of a layer turned off.
    this.layer(
      record.text(2) ?? "0",
      colour >= 0 && !frozen,
      this.ownColour(record) ?? numberedColour(Math.abs(colour)),
    );
  }

  private layer(name: string, shown = true, colour = INK): number {
    const known = this.layerIndex.get(name);
    if (known !== undefined) return known;
    const index = this.layers.push({ name, count: 0, shown, colour }) - 1;
    this.layerIndex.set(name, index);
    return index;
  }

  private takeEntity(record: DxfRecord): void {
    if (this.section === "BLOCKS") this.block?.entities.push(record);
    else if (this.section === "ENTITIES") this.draw(record, IDENTITY, "0", INK, []);
  }

  private draw(
    entity: DxfRecord,
    placement: Placement,
    onLayer: string,
    blockColour: number,
    within: readonly string[],
  ): void {
    const onPaper = entity.number(67, 0) === 1;
    const hidden = entity.number(60, 0) === 1;
    if (onPaper || hidden) return;
    // What a block has on layer 0 is on the layer of the place it is put.
    const own = entity.text(8) ?? "0";
    const name = within.length > 0 && own === "0" ? onLayer : own;
    const layer = this.layer(name);
    const index = entity.number(62, BY_LAYER);
    const colour =
      this.ownColour(entity) ??
      (index === BY_LAYER ? this.layers[layer].colour : index === BY_BLOCK ? blockColour : numberedColour(index));
    if (entity.type === "INSERT") this.insert(entity, placement, name, colour, within);
    else if (entity.type === "DIMENSION") this.drawBlock(entity.text(2) ?? "", placement, name, colour, within);
    else this.drawOne(entity, placement, layer, colour);
  }

  /** A colour given by red, green and blue. */
  private ownColour(record: DxfRecord): number | undefined {
    const colour = record.number(420);
    return colour >= 0 && colour <= 0xffffff ? colour : undefined;
  }

  private insert(
    entity: DxfRecord,
    placement: Placement,
    layer: string,
    colour: number,
    within: readonly string[],
  ): void {
    const name = entity.text(2) ?? "";
    const times = (code: number) => Math.min(MOST_INSERTS, Math.max(1, Math.floor(entity.number(code, 1)) || 1));
    const [columns, rows] = [times(70), times(71)];
    this.inserts += columns * rows;
    if (this.inserts > MOST_INSERTS) tooMuch();
    const base = this.blocks.get(name)?.base ?? [0, 0];
    for (let row = 0; row < rows; row++) {
      for (let column = 0; column < columns; column++) {
        const own = placed({
          at: [entity.number(10, 0), entity.number(20, 0)],
          turn: (entity.number(50, 0) * Math.PI) / 180,
          scale: [entity.number(41, 1), entity.number(42, 1)],
          base,
          offset: [column * entity.number(44, 0), row * entity.number(45, 0)],
          mirrored: entity.number(230, 1) < 0,
        });
        this.drawBlock(name, then(own, placement), layer, colour, within);
      }
    }
  }

  private drawBlock(
    name: string,
    placement: Placement,
    layer: string,
    colour: number,
    within: readonly string[],
  ): void {
    const block = this.blocks.get(name);
    if (!block) {
      if (name !== "") this.missing.add(name);
      return;
    }
    if (within.includes(name))
      refuse(
        `Its block "${name}" contains itself, so it has no end.`,
        "Mend the block with the program that made it, and save it again.",
      );
    if (within.length >= DEEPEST)
      refuse(
        `Its blocks are nested more than ${DEEPEST} deep.`,
        "Resolve the blocks with the program that made them, and save it again.",
      );
    const inside = [...within, name];
    for (const entity of block.entities) this.draw(entity, placement, layer, colour, inside);
  }

  private drawOne(entity: DxfRecord, placement: Placement, layer: number, colour: number): void {
    const word = wordOf(entity, placement);
    if (word) {
      this.words.push({ ...word, layer, colour });
      this.layers[layer].count += 1;
      return;
    }
    const lines = linesOf(entity);
    if (!lines) this.unread.set(entity.type, (this.unread.get(entity.type) ?? 0) + 1);
    const [a, b, c, d, e, f] = placement;
    for (const flat of lines ?? []) {
      const points = new Float64Array(flat.length);
      for (let i = 0; i < flat.length; i += 2) {
        points[i] = a * flat[i] + c * flat[i + 1] + e;
        points[i + 1] = b * flat[i] + d * flat[i + 1] + f;
      }
      if (points.length < 4 || !points.every(drawable)) continue;
      this.points += points.length / 2;
      if (this.points > MOST_POINTS || this.lines.length >= MOST_LINES) tooMuch();
      this.lines.push({ layer, colour, points });
      this.layers[layer].count += 1;
    }
  }
}

/** Beyond this a place cannot be meant, and pictures of it have no digits left. */
const FARTHEST = 1e12;
const drawable = (value: number) => Math.abs(value) < FARTHEST;

const tooMuch = (): never =>
  refuse(
    `It unfolds into more than ${MOST_LINES / 1e6} million lines.`,
    "Leave out layers that the plan does not need, and save it again.",
  );
