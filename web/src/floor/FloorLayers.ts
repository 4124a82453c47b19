import type { Design } from "@busy-harbor/core";
import { COLOURS } from "./colours.ts";
import { drawScene, type Scene } from "./scene.ts";
import type { Canvas } from "./symbols/shared.ts";
import type { View } from "./view.ts";

/** Pixels drawn beyond each edge, so that panning need not draw anew at every step. */
const BEYOND = 240;
/** Designs of fewer elements and links are drawn whole each time: that is quick, and simpler. */
const FEW = 120;
/** Most things that may change before the resting picture is drawn anew. */
const MOST_MOVED = 400;

interface Resting {
  readonly canvas: HTMLCanvasElement;
  readonly scene: Scene;
  readonly moved: ReadonlySet<string>;
  readonly ratio: number;
  readonly ink: string;
}

/**
 * Draws the floor in two layers: a picture, kept, of what rests, somewhat larger than
 * the screen, and over it what moves or changes from frame to frame, such as what
 * is dragged, selected or being typed about. A large plan thus costs one image a frame.
 */
export class FloorLayers {
  private resting: Resting | undefined;

  draw(ctx: Canvas, scene: Scene): void {
    if (scene.design.elements.length + scene.design.links.length < FEW) {
      this.resting = undefined;
      drawScene(ctx, scene);
      return;
    }
    const ratio = ctx.getTransform().a;
    let resting = this.resting;
    const changed = resting && changes(resting.scene.design, scene.design);
    const same =
      resting &&
      changed &&
      resting.ratio === ratio &&
      resting.ink === COLOURS.ink &&
      resting.scene.plan === scene.plan &&
      resting.scene.backdrop === scene.backdrop &&
      resting.scene.troubled === scene.troubled &&
      covers(resting.scene, scene);
    if (!resting || !same || !isSubset(changed, resting.moved)) {
      // What has changed will likely change again; so will what was left out before and is still dragged.
      const moved =
        same && changed.size + resting!.moved.size <= MOST_MOVED
          ? new Set([...resting!.moved, ...changed])
          : (changed ?? new Set<string>());
      resting = this.rest(scene, moved.size <= MOST_MOVED ? moved : new Set(), ratio);
    }
    const [dx, dy] = [
      (resting.scene.view.x - scene.view.x) * scene.view.scale,
      (resting.scene.view.y - scene.view.y) * scene.view.scale,
    ];
    const { width, height } = resting.canvas;
    // Whole pixels of the screen, or the picture blurs.
    const whole = (x: number) => Math.round(x * ratio) / ratio;
    ctx.drawImage(resting.canvas, whole(dx - BEYOND), whole(dy - BEYOND), width / ratio, height / ratio);
    drawScene(ctx, scene, { draw: "at hand", moved: resting.moved });
  }

  private rest(scene: Scene, moved: ReadonlySet<string>, ratio: number): Resting {
    const canvas = this.resting?.canvas ?? document.createElement("canvas");
    const size = { width: scene.size.width + 2 * BEYOND, height: scene.size.height + 2 * BEYOND };
    const [width, height] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
    if (canvas.width !== width || canvas.height !== height) [canvas.width, canvas.height] = [width, height];
    const ctx = canvas.getContext("2d", { alpha: false })!;
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    drawScene(ctx, { ...scene, size, selection: new Set(), hovered: undefined }, { draw: "resting", moved });
    this.resting = { canvas, scene, moved, ratio, ink: COLOURS.ink };
    return this.resting;
  }
}

/** Whether the picture drawn for one scene has all that another shows. */
function covers(drawn: Scene, scene: Scene): boolean {
  const far = (a: number, b: number) => Math.abs(a - b) * scene.view.scale > BEYOND;
  return (
    sameScale(drawn.view, scene.view) &&
    drawn.size.width === scene.size.width &&
    drawn.size.height === scene.size.height &&
    drawn.grid === scene.grid &&
    !far(drawn.view.x, scene.view.x) &&
    !far(drawn.view.y, scene.view.y)
  );
}

const sameScale = (a: View, b: View) => a.scale === b.scale;

/**
 * Ids of elements and links that differ between two states of a design; undefined when some were added, removed or
 * put in another order.
 */
export function changes(before: Design, after: Design): ReadonlySet<string> | undefined {
  const changed = new Set<string>();
  for (const list of ["elements", "links"] as const) {
    const [old, now] = [before[list], after[list]];
    if (old === now) continue;
    if (old.length !== now.length) return undefined;
    for (let i = 0; i < now.length; i++) {
      if (old[i].id !== now[i].id) return undefined;
      if (old[i] !== now[i]) changed.add(now[i].id);
    }
  }
  return changed;
}

const isSubset = (small: ReadonlySet<string> | undefined, large: ReadonlySet<string>) =>
  small !== undefined && [...small].every((id) => large.has(id));
