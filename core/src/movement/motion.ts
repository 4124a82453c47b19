import type { Point } from "../settings/parts.ts";
import type { Stretch } from "./network.ts";

/** How something moves over a leg: its speed at the start of each stretch, and at the end of the last. */
export interface Profile {
  readonly speeds: Float64Array;
  /** Metres a second a second, for gathering speed and for slowing down. */
  readonly acceleration: number;
  /** Metres a second on each stretch at most. */
  readonly most: Float64Array;
}

/** A way turns where it changes its direction by more than 30 degrees: the cosine of that. */
const COS_OF_TURN = Math.sqrt(3) / 2;

/**
 * The motion of least time over stretches from rest to rest: nowhere faster than the limits, nor than `turning` where
 * the way turns, gathering speed and slowing down at one rate. Speeds at the joints are found forwards and then
 * backwards, each from v² = u² + 2 a s.
 */
export function profileOf(
  stretches: readonly Stretch[],
  speed: number,
  acceleration: number,
  turning = Infinity,
  first = 0,
): Profile {
  const count = stretches.length;
  const most = Float64Array.from(stretches, ({ limit }) => Math.min(speed, limit));
  const speeds = new Float64Array(count + 1);
  for (let s = first + 1; s < count; s++) {
    const reached = Math.sqrt(speeds[s - 1] ** 2 + 2 * acceleration * stretches[s - 1].length);
    speeds[s] = Math.min(most[s - 1], most[s], stretches[s].turns ? turning : Infinity, reached);
  }
  for (let s = count - 1; s > first; s--)
    speeds[s] = Math.min(speeds[s], Math.sqrt(speeds[s + 1] ** 2 + 2 * acceleration * stretches[s].length));
  return { speeds, acceleration, most };
}

/** Seconds over a stretch of so many metres: it gathers speed, keeps it as far as there is room, and slows down. */
export function secondsOver(profile: Profile, s: number, length: number): number {
  const { acceleration: a } = profile;
  const { begins, peak, ends, level } = phasesOf(profile, s, length);
  return (peak - begins) / a + level / peak + (peak - ends) / a;
}

/** Metres that are gone of a stretch after so many seconds on it. */
export function metresAfter(profile: Profile, s: number, length: number, seconds: number): number {
  const { acceleration: a } = profile;
  const { begins, peak, ends, level } = phasesOf(profile, s, length);
  const gathering = (peak - begins) / a;
  if (seconds <= gathering) return begins * seconds + (a * seconds ** 2) / 2;
  const gathered = ((peak + begins) / 2) * gathering;
  const levelled = seconds - gathering;
  if (levelled <= level / peak) return gathered + peak * levelled;
  const slowing = Math.min(levelled - level / peak, (peak - ends) / a);
  return Math.min(length, gathered + level + peak * slowing - (a * slowing ** 2) / 2);
}

/** Speeds of a stretch at its start, at most, and at its end, and the metres that it keeps the highest. */
function phasesOf({ speeds, most, acceleration: a }: Profile, s: number, length: number) {
  const [begins, ends] = [speeds[s], speeds[s + 1]];
  const peak = Math.max(begins, ends, Math.min(most[s], Math.sqrt(a * length + (begins ** 2 + ends ** 2) / 2)));
  const level = Math.max(0, length - (2 * peak ** 2 - begins ** 2 - ends ** 2) / (2 * a));
  return { begins, peak, ends, level };
}

/** Stretches of a route, parted where it turns, for what slows down there. */
export function partedAtTurns(stretches: readonly Stretch[], points: readonly Point[]): readonly Stretch[] {
  const turns: number[] = [];
  let at = 0;
  for (let i = 1; i + 1 < points.length; i++) {
    const [[x0, y0], [x1, y1], [x2, y2]] = [points[i - 1], points[i], points[i + 1]];
    const [length, onward] = [Math.sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2), Math.sqrt((x2 - x1) ** 2 + (y2 - y1) ** 2)];
    at += length;
    if ((x1 - x0) * (x2 - x1) + (y1 - y0) * (y2 - y1) < COS_OF_TURN * length * onward) turns.push(at);
  }
  return stretches.flatMap((stretch) => {
    const end = stretch.from + stretch.length;
    const parts: Stretch[] = [];
    let from = stretch.from;
    let isTurn = turns.some((turn) => near(turn, from));
    for (const turn of [...turns.filter((of) => of > from && of < end && !near(of, from) && !near(of, end)), end]) {
      parts.push({ ...stretch, from, length: turn - from, turns: isTurn });
      from = turn;
      isTurn = true;
    }
    return parts;
  });
}

const near = (a: number, b: number): boolean => Math.abs(a - b) < 1e-6;
