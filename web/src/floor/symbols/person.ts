/**
 * How a person is drawn from above. Of the two that walk, one has the left foot ahead, the other the right; who reaches
 * pushes or carries.
 */
export const POSES = ["standing", "left ahead", "right ahead", "sitting", "lying", "typing", "reaching"] as const;
export type Pose = (typeof POSES)[number];

/** Metres of a step: so far apart are left and right. */
const STEP = 0.75;

/** With which foot ahead one walks after so many metres. */
export const walkingPose = (metres: number): Pose =>
  Math.floor(metres / STEP) % 2 === 0 ? "left ahead" : "right ahead";

const SHOULDERS = [3.4, 6] as const;

/** Where the head is, to the right of the middle, facing right. */
export const headOf = (pose: Pose): number => (pose === "lying" ? 6 : pose === "sitting" || pose === "typing" ? -1 : 0);

const bodies = new Map<Pose, Path2D>();

/** The body of a person who faces to the right, about 12 pixels across. */
export function personFromAbove(pose: Pose): Path2D {
  let body = bodies.get(pose);
  if (!body) bodies.set(pose, (body = bodyOf(pose)));
  return body;
}

function bodyOf(pose: Pose): Path2D {
  const p = new Path2D();
  const limb = (x: number, y: number, length: number, turn = 0) => {
    p.moveTo(x + 1.3 * Math.cos(turn + Math.PI / 2), y + 1.3 * Math.sin(turn + Math.PI / 2));
    p.ellipse(x + (length / 2) * Math.cos(turn), y + (length / 2) * Math.sin(turn), length / 2, 1.5, turn, 0, 7);
  };
  const shoulders = (x = 0) => {
    p.moveTo(x + SHOULDERS[0], 0);
    p.ellipse(x, 0, ...SHOULDERS, 0, 0, 7);
  };
  switch (pose) {
    case "standing":
      shoulders();
      break;
    case "left ahead":
    case "right ahead": {
      const side = pose === "left ahead" ? -1 : 1;
      limb(1.5, 2.4 * side, 5);
      limb(-6.5, -2.4 * side, 5);
      shoulders();
      break;
    }
    case "sitting":
      limb(0, -2.6, 7);
      limb(0, 2.6, 7);
      shoulders(-1);
      break;
    case "typing":
      limb(-0.5, -5, 8, 0.45);
      limb(-0.5, 5, 8, -0.45);
      shoulders(-1);
      break;
    case "reaching":
      limb(0, -4.6, 7, 0.1);
      limb(0, 4.6, 7, -0.1);
      shoulders();
      break;
    case "lying":
      p.roundRect(-7, -3, 8, 6, 2.4);
      p.roundRect(0.5, -4.6, 5, 9.2, 2.4);
      break;
  }
  return p;
}
