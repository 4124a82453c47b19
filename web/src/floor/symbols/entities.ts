import type { EntityType } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import { headOf, personFromAbove, type Pose } from "./person.ts";
import type { Canvas } from "./shared.ts";

/** Shapes of entities seen from above, pointing to the right, about 12 pixels long. */
const shapes: { readonly [L in Exclude<EntityType["look"], "picture">]: () => Path2D } = {
  hull() {
    const p = new Path2D();
    p.moveTo(-6.5, -3.6);
    p.lineTo(1.5, -3.9);
    p.quadraticCurveTo(5.5, -2.6, 7.5, 0);
    p.quadraticCurveTo(5.5, 2.6, 1.5, 3.9);
    p.lineTo(-6.5, 3.6);
    p.quadraticCurveTo(-7.4, 0, -6.5, -3.6);
    p.closePath();
    return p;
  },
  crate() {
    const p = new Path2D();
    p.rect(-5, -5, 10, 10);
    return p;
  },
  barrel() {
    const p = new Path2D();
    p.arc(0, 0, 5.2, 0, 7);
    return p;
  },
  parcel() {
    const p = new Path2D();
    p.roundRect(-6, -4, 12, 8, 1.5);
    return p;
  },
  drum() {
    const p = new Path2D();
    p.arc(0, 0, 5.4, 0, 7);
    return p;
  },
  pallet() {
    const p = new Path2D();
    p.rect(-6, -4.8, 12, 9.6);
    return p;
  },
  sheet() {
    const p = new Path2D();
    p.rect(-7, -3.2, 14, 6.4);
    return p;
  },
  forklift() {
    const p = new Path2D();
    p.roundRect(-7, -4, 8.5, 8, 2);
    p.rect(1.5, -3, 6, 1);
    p.rect(1.5, 2, 6, 1);
    return p;
  },
  truck() {
    const p = new Path2D();
    p.rect(-8, -4, 10.5, 8);
    p.roundRect(3.2, -3.6, 4.6, 7.2, 1.6);
    return p;
  },
  boat() {
    const p = new Path2D();
    p.moveTo(-8, 0);
    p.quadraticCurveTo(-3, -5, 3, -3.6);
    p.quadraticCurveTo(6.4, -2.2, 8, 0);
    p.quadraticCurveTo(6.4, 2.2, 3, 3.6);
    p.quadraticCurveTo(-3, 5, -8, 0);
    p.closePath();
    return p;
  },
  tug() {
    const p = new Path2D();
    p.moveTo(-6.5, -4.6);
    p.lineTo(1, -4.6);
    p.quadraticCurveTo(7.6, -4, 7.6, 0);
    p.quadraticCurveTo(7.6, 4, 1, 4.6);
    p.lineTo(-6.5, 4.6);
    p.closePath();
    return p;
  },
  person: () => personFromAbove("standing"),
  cart() {
    const p = new Path2D();
    p.roundRect(-6, -4.5, 9, 9, 2);
    p.moveTo(3, -3);
    p.lineTo(7, -3);
    p.moveTo(3, 3);
    p.lineTo(7, 3);
    return p;
  },
};

/** Lines drawn over a shape: slats, rims, forks, a wheelhouse. */
const details: { readonly [L in EntityType["look"]]?: (p: Path2D) => void } = {
  barrel(p) {
    p.moveTo(-3.6, -3.6);
    p.lineTo(-3.6, 3.6);
    p.moveTo(3.6, -3.6);
    p.lineTo(3.6, 3.6);
  },
  drum: (p) => p.arc(0, 0, 3.6, 0, 7),
  pallet(p) {
    for (const y of [-2.4, 0, 2.4]) {
      p.moveTo(-6, y);
      p.lineTo(6, y);
    }
  },
  crate(p) {
    p.moveTo(-5, -5);
    p.lineTo(5, 5);
    p.moveTo(-5, 5);
    p.lineTo(5, -5);
  },
  truck(p) {
    p.moveTo(3.2, -3.6);
    p.lineTo(3.2, 3.6);
  },
  boat(p) {
    p.moveTo(-2.5, -3);
    p.lineTo(-2.5, 3);
    p.moveTo(1.5, -2.8);
    p.lineTo(1.5, 2.8);
  },
  tug: (p) => p.rect(-1.5, -2, 4, 4),
};

/** Pixels from the middle of a sprite to its edge, at scale 1: the longest shape with its outline. */
const REACH = 9;

const sprites = new Map<string, HTMLCanvasElement>();
/** Looks with lines over them, or something else in their middle, have no white point there. */
const WITH_POINT: ReadonlySet<EntityType["look"]> = new Set(["hull", "parcel", "person", "cart", "sheet"]);

/** What an entity of a type looks like; a picture is drawn in place of the shape once it has come. */
export type Look = Pick<EntityType, "look"> & { readonly image?: ImageBitmap };

/** A colour of an entity, and its shape where it is not that of its type. */
export interface Shade {
  readonly colour: string;
  readonly shape?: Exclude<EntityType["look"], "picture">;
}

/** An entity drawn once, to be stamped many times: one image instead of three paths each. */
function spriteOf({ look, image }: Look, colour: string, pixels: number, pose: Pose = "standing"): HTMLCanvasElement {
  const key = `${look} ${pose} ${colour} ${pixels} ${COLOURS.ink} ${image ? numberOf(image) : ""}`;
  let sprite = sprites.get(key);
  if (!sprite) {
    if (sprites.size > 200) sprites.clear();
    sprite = document.createElement("canvas");
    sprite.width = sprite.height = Math.ceil(2 * REACH * pixels);
    const ctx = sprite.getContext("2d")!;
    ctx.setTransform(pixels, 0, 0, pixels, sprite.width / 2, sprite.width / 2);
    if (image) drawPicture(ctx, image, colour);
    else drawShape(ctx, look === "picture" ? "parcel" : look, colour, pose);
    sprites.set(key, sprite);
  }
  return sprite;
}

const numbers = new WeakMap<ImageBitmap, number>();
let pictures = 0;
const numberOf = (image: ImageBitmap): number => {
  if (!numbers.has(image)) numbers.set(image, ++pictures);
  return numbers.get(image)!;
};

/** A picture as large as fits, with its colour as a point at a corner. */
function drawPicture(ctx: Canvas, image: ImageBitmap, colour: string): void {
  const k = (2 * REACH - 2) / Math.max(image.width, image.height);
  ctx.drawImage(image, (-image.width * k) / 2, (-image.height * k) / 2, image.width * k, image.height * k);
  ctx.beginPath();
  ctx.arc(-REACH + 3, -REACH + 3, 2.2, 0, 7);
  ctx.fillStyle = colour;
  ctx.fill();
}

function drawShape(ctx: Canvas, look: keyof typeof shapes, colour: string, pose: Pose): void {
  const path = look === "person" ? personFromAbove(pose) : shapes[look]();
  ctx.fillStyle = colour;
  ctx.fill(path);
  ctx.lineWidth = 1;
  ctx.strokeStyle = COLOURS.ink;
  ctx.stroke(path);
  const lines = new Path2D();
  details[look]?.(lines);
  ctx.lineWidth = 0.7;
  ctx.stroke(lines);
  if (!WITH_POINT.has(look)) return;
  ctx.beginPath();
  ctx.arc(look === "hull" ? -0.5 : look === "person" ? headOf(pose) : 0, 0, look === "person" ? 2 : 1.7, 0, 7);
  ctx.fillStyle = COLOURS.sheet;
  ctx.fill();
}

/** An entity's look alone, for a list or a legend. */
export function drawLook(ctx: Canvas, look: Look, colour: string, size: number): void {
  const sprite = spriteOf(look, colour, size / (2 * REACH));
  ctx.drawImage(sprite, 0, 0);
}

/** Directions in which entities are drawn beforehand: an image that is turned while it is stamped costs a good deal. */
const DIRECTIONS = 48;
const turned = new WeakMap<HTMLCanvasElement, HTMLCanvasElement>();

/** A sprite in each direction, one beside the other. */
function turnedOf(sprite: HTMLCanvasElement): HTMLCanvasElement {
  let strip = turned.get(sprite);
  if (strip) return strip;
  const { width: size } = sprite;
  strip = document.createElement("canvas");
  strip.width = size * DIRECTIONS;
  strip.height = size;
  const ctx = strip.getContext("2d")!;
  for (let n = 0; n < DIRECTIONS; n++) {
    const angle = (2 * Math.PI * n) / DIRECTIONS;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    ctx.save();
    // A corner that is turned must not reach into the next.
    ctx.beginPath();
    ctx.rect(n * size, 0, size, size);
    ctx.clip();
    ctx.setTransform(cos, sin, -sin, cos, (n + 0.5) * size, size / 2);
    ctx.drawImage(sprite, -size / 2, -size / 2);
    ctx.restore();
  }
  turned.set(sprite, strip);
  return strip;
}

/**
 * Draws entities at screen points, each turned by its angle, in one of its type's
 * colours (`palettes`, by type, then by shade). `ratio` is device pixels a screen
 * pixel; the canvas's transform is set anew and left at the ratio.
 */
export function drawEntities(
  ctx: Canvas,
  entities: Iterable<{
    readonly x: number;
    readonly y: number;
    readonly angle: number;
    readonly type: number;
    readonly shade: number;
    readonly pose?: Pose;
  }>,
  looks: readonly Look[],
  palettes: readonly (readonly Shade[])[],
  scale: number,
  ratio: number,
): void {
  const strips = looks.map((look, type) =>
    palettes[type].map(({ colour, shape }) =>
      turnedOf(spriteOf(shape ? { look: shape } : look, colour, scale * ratio)),
    ),
  );
  /** Of people, by how they are, their type and their colour. */
  const posed = new Map<string, HTMLCanvasElement>();
  const inPose = (type: number, shade: number, pose: Pose): HTMLCanvasElement | undefined => {
    const { colour, shape } = palettes[type][shade] ?? palettes[type][0];
    if ((shape ?? looks[type].look) !== "person") return undefined;
    const key = `${pose} ${type} ${shade}`;
    let strip = posed.get(key);
    if (!strip) posed.set(key, (strip = turnedOf(spriteOf({ look: "person" }, colour, scale * ratio, pose))));
    return strip;
  };
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  for (const { x, y, angle, type, shade, pose = "standing" } of entities) {
    const strip = (pose !== "standing" && inPose(type, shade, pose)) || (strips[type][shade] ?? strips[type][0]);
    const size = strip.height;
    const n = Math.round((angle / (2 * Math.PI)) * DIRECTIONS);
    const direction = ((n % DIRECTIONS) + DIRECTIONS) % DIRECTIONS;
    // At whole pixels it is copied as it is.
    const [left, top] = [Math.round(x * ratio - size / 2), Math.round(y * ratio - size / 2)];
    ctx.drawImage(strip, direction * size, 0, size, size, left, top, size, size);
  }
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
}
