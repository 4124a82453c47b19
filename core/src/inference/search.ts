import { applyJump, seedWords, streamJump, substreamJump, UniformSource } from "../random/mrg32k3a.ts";
import type { Better } from "./best.ts";
import { efficient } from "./front.ts";
import { latinHypercube } from "./plans.ts";
import { selectionStep } from "./selection.ts";

/** What a search may set: whole numbers, real ones in so many steps, or one of several choices. */
export type SearchFactor =
  | { readonly kind: "whole"; readonly low: number; readonly high: number }
  | { readonly kind: "real"; readonly low: number; readonly high: number; readonly steps: number }
  | { readonly kind: "choice"; readonly count: number };

/** A place of a search: for each factor the number of its step, or of its choice, from 0. */
export type SearchPoint = readonly number[];

/** The sum of coefficients times values may be at most so much; choices count as their numbers from 0. */
export interface SearchConstraint {
  readonly coefficients: readonly number[];
  readonly most: number;
}

export interface SearchSettings {
  readonly factors: readonly SearchFactor[];
  readonly constraints: readonly SearchConstraint[];
  readonly better: Better;
  /** A second response is to be at most, or at least, so much on average. */
  readonly bound?: { readonly value: number; readonly better: Better };
  /** Further responses, by which direction is better: places are looked for that are efficient by all of them. */
  readonly front?: readonly Better[];
  /** Replications in all. */
  readonly budget: number;
  /** The smallest difference that matters, and the chance of the selection among the finalists. */
  readonly indifference: number;
  readonly p: number;
  readonly seed: number;
}

/** What came out of a place, by replication: of the response, of the bounded one, and of further ones. */
export interface Tried {
  readonly values: readonly number[];
  readonly bounded?: readonly number[];
  readonly others?: readonly (readonly number[])[];
}

export interface SearchStep {
  /** Places in the order in which they are tried, and how many replications are wanted of each. */
  readonly wanted: readonly { readonly point: SearchPoint; readonly replications: number }[];
  readonly phase: "looking" | "selecting" | "over";
  /** Position of the best so far, by means of what is allowed; undefined where none is. */
  readonly best: number | undefined;
  /** The best after each round: the path. */
  readonly path: readonly number[];
  /** Positions of those among whom the best is selected; of several responses the efficient ones. */
  readonly finalists: readonly number[];
  /** Whether the selection among the finalists holds its promise. */
  readonly holds: boolean;
}

/** Replications of a place when it is first tried. */
const FIRST = 5;
/** New places a round. */
const NEW = 4;
/** Places that keep up with the best: luck of the first replications is found out. */
const KEPT_UP = 5;
/** Share of the budget that is left to the selection. */
const FOR_SELECTION = 0.35;
const MOST_FINALISTS = 4;
/** Efficient places that get more replications with each round, and that share what is left at the end. */
const MOST_EFFICIENT = 12;
/** Rounds in a row that found nothing left beside the best, after which no more is looked for elsewhere. */
const SETTLED = 8;
const TRIES = 60;

/** The value of a factor at a step. */
export function searchValue(factor: SearchFactor, step: number): number {
  if (factor.kind === "whole") return factor.low + step;
  return factor.kind === "choice" ? step : factor.low + ((factor.high - factor.low) * step) / factor.steps;
}

/** How many steps a factor has. */
export const searchSteps = (factor: SearchFactor): number =>
  factor.kind === "whole" ? factor.high - factor.low + 1 : factor.kind === "real" ? factor.steps + 1 : factor.count;

/** Whether constraints let a place be tried. */
export const isAllowed = (
  point: SearchPoint,
  { factors, constraints }: Pick<SearchSettings, "factors" | "constraints">,
): boolean =>
  constraints.every(
    ({ coefficients, most }) =>
      coefficients.reduce((sum, c, f) => sum + c * searchValue(factors[f], point[f]), 0) <=
      most + 1e-9 * Math.abs(most),
  );

/** How many places there are, without constraints. */
export const searchSize = (factors: readonly SearchFactor[]): number =>
  factors.reduce((product, factor) => product * searchSteps(factor), 1);

/** Places that are counted one by one where constraints forbid some. */
const MOST_COUNTED = 100_000;

/** How many places constraints allow; undefined where there are too many to be counted. */
export function allowedSize(settings: Pick<SearchSettings, "factors" | "constraints">): number | undefined {
  const { factors, constraints } = settings;
  const size = searchSize(factors);
  if (constraints.length === 0) return size;
  if (size > MOST_COUNTED) return undefined;
  let count = 0;
  for (let place = 0; place < size; place++) {
    let rest = place;
    const point = factors.map((factor) => {
      const step = rest % searchSteps(factor);
      rest = (rest - step) / searchSteps(factor);
      return step;
    });
    if (isAllowed(point, settings)) count += 1;
  }
  return count;
}

/** What is known while the rounds are gone through. */
interface Looking {
  readonly tried: { readonly point: SearchPoint; need: number }[];
  readonly at: Map<string, number>;
}

/**
 * The next step of a search for the best place by simulation. After a Latin hypercube, each round tries places in the
 * box around the best that is bounded, factor by factor, by the nearest places tried (adaptive hyperboxes; Xu, Nelson
 * and Hong 2013), and now and then one anywhere; the best and those close behind get more replications with each round.
 * Where nothing is left beside the best, places anywhere are tried for some rounds. When that finds nothing better, or
 * the share of the budget for it is spent, the best of the finalists is selected by replications of their own (Kim and
 * Nelson 2001), so that luck in the search makes nobody win. Of several responses each round looks around one of the
 * efficient places, by turns, and what is left of the budget is shared by those: means of more replications say which
 * of them stay efficient.
 *
 * It depends on what was observed alone, in the order of replications, and so goes on after an interruption as if there
 * had been none. `history` has what came out in the order of `wanted`.
 */
export function searchStep(history: readonly Tried[], settings: SearchSettings): SearchStep {
  const looking: Looking = { tried: [], at: new Map() };
  const path: number[] = [];
  const most = settings.budget * (1 - FOR_SELECTION);
  let settled = 0;
  for (let round = 0; settled < SETTLED; round++) {
    const before = looking.tried.length;
    const need = FIRST + Math.floor(round / 2);
    let fresh = round === 0 ? firstPlaces(settings) : placesNear(looking, history, settings, round);
    settled = fresh.length === 0 ? settled + 1 : 0;
    if (fresh.length === 0) fresh = placesAnywhere(looking, settings, round);
    // A place of which one more round cannot be paid is not begun.
    const kept = settings.front ? MOST_EFFICIENT : KEPT_UP;
    const cost = fresh.length * need + Math.min(kept, before) * 1;
    if (round > 0 && spentOf(looking) + cost > most) break;
    // By what was known before the round: what came out of its new places since must change nothing of it.
    const close = round === 0 ? [] : leaders(looking, history, settings);
    for (const point of fresh) {
      looking.at.set(point.join(), looking.tried.length);
      looking.tried.push({ point, need });
    }
    for (const i of close) looking.tried[i].need = Math.max(looking.tried[i].need, need);
    if (lacks(looking, history)) return going(looking, path, "looking");
    path.push(ranked(looking, history, settings)[0]);
  }
  return (settings.front ? sharing : selecting)(looking, history, settings, path);
}

/** Positions of those that get more replications: the best, or, of several responses, the efficient ones. */
const leaders = (looking: Looking, history: readonly Tried[], settings: SearchSettings): number[] =>
  settings.front
    ? efficientOf(looking, history, settings).slice(0, MOST_EFFICIENT)
    : ranked(looking, history, settings).slice(0, KEPT_UP);

/** Positions of the efficient places by what is asked of them so far, by the first response; those within the bound. */
function efficientOf(
  looking: Looking,
  history: readonly Tried[],
  settings: SearchSettings,
  among?: readonly number[],
): number[] {
  const { better, front = [] } = settings;
  const order = ranked(looking, history, settings).filter((i) => among?.includes(i) ?? true);
  const within = order.filter((i) => isWithin(looking, history, settings, i));
  const points = within.map((i) => {
    const { values, others = [] } = history[i];
    const n = Math.min(looking.tried[i].need, values.length);
    return [values, ...others].map((column) => meanOf(column, n));
  });
  const isEfficient = efficient(points, [better, ...front]);
  const found = within.filter((_, k) => isEfficient[k]);
  // Where no place keeps within the bound, the one that comes nearest leads.
  return found.length > 0 ? found : order.slice(0, 1);
}

/** Whether the mean of the bounded response keeps within its bound. */
function isWithin({ tried }: Looking, history: readonly Tried[], { bound }: SearchSettings, i: number): boolean {
  if (!bound) return true;
  const mean = meanOf(history[i].bounded ?? [], tried[i].need);
  return bound.better === "less" ? mean <= bound.value : mean >= bound.value;
}

/** The end of a search by several responses: what is left of the budget is shared by the efficient places. */
function sharing(
  looking: Looking,
  history: readonly Tried[],
  settings: SearchSettings,
  path: readonly number[],
): SearchStep {
  const found = leaders(looking, history, settings);
  const more = Math.floor((settings.budget - spentOf(looking)) / found.length);
  for (const i of found) looking.tried[i].need += Math.max(0, more);
  const state = going(
    looking,
    path,
    "selecting",
    [...found].sort((a, b) => a - b),
  );
  if (lacks(looking, history)) return state;
  // Some may prove to be worse than others by all that they have now; what has seen less is not held against them.
  const finalists = efficientOf(looking, history, settings, found);
  const isAny = isWithin(looking, history, settings, finalists[0]);
  return { ...state, phase: "over", best: isAny ? finalists[0] : undefined, finalists: isAny ? finalists : [] };
}

const spentOf = ({ tried }: Looking): number => tried.reduce((sum, { need }) => sum + need, 0);
const lacks = ({ tried }: Looking, history: readonly Tried[]): boolean =>
  tried.some(({ need }, i) => (history[i]?.values.length ?? 0) < need);

function going(
  { tried }: Looking,
  path: readonly number[],
  phase: "looking" | "selecting",
  finalists: readonly number[] = [],
): SearchStep {
  return {
    wanted: tried.map(({ point, need }) => ({ point, replications: need })),
    phase,
    best: path.at(-1),
    path,
    finalists,
    holds: false,
  };
}

/** The first round: a Latin hypercube, as far as constraints allow. */
function firstPlaces(settings: SearchSettings): SearchPoint[] {
  const { factors } = settings;
  const uniform = sourceOf(settings.seed, 0);
  const count = Math.min(searchSize(factors), Math.max(8, 3 * factors.length + 2));
  const places = new Map<string, SearchPoint>();
  for (const u of latinHypercube(count, factors.length, uniform)) {
    const point = u.map((v, f) => Math.min(searchSteps(factors[f]) - 1, Math.floor(v * searchSteps(factors[f]))));
    if (isAllowed(point, settings)) places.set(point.join(), point);
  }
  for (let tried = 0; places.size < 2 && tried < 1000; tried++) {
    const point = anywhere(factors, uniform);
    if (isAllowed(point, settings)) places.set(point.join(), point);
  }
  return [...places.values()];
}

const anywhere = (factors: readonly SearchFactor[], uniform: () => number): number[] =>
  factors.map((factor) => Math.floor(uniform() * searchSteps(factor)));

/** Places anywhere, where nothing is left beside the best: it may be the best of its neighbours only. */
function placesAnywhere({ at }: Looking, settings: SearchSettings, round: number): SearchPoint[] {
  const uniform = sourceOf(settings.seed, round);
  const found = new Map<string, SearchPoint>();
  for (let tried = 0; found.size < NEW && tried < TRIES; tried++) {
    const point = anywhere(settings.factors, uniform);
    if (!at.has(point.join()) && isAllowed(point, settings)) found.set(point.join(), point);
  }
  return [...found.values()];
}

/** New places of a round: in the box around the best, and now and then one anywhere. */
function placesNear(
  looking: Looking,
  history: readonly Tried[],
  settings: SearchSettings,
  round: number,
): SearchPoint[] {
  const { factors } = settings;
  const uniform = sourceOf(settings.seed, round);
  const led = leaders(looking, history, settings);
  const best = looking.tried[settings.front ? led[Math.floor(uniform() * led.length)] : led[0]].point;
  const box = boxAround(best, looking, factors);
  const found = new Map<string, SearchPoint>();
  const take = (point: SearchPoint) => {
    const key = point.join();
    if (!looking.at.has(key) && isAllowed(point, settings)) found.set(key, point);
  };
  // Beside the best, one factor at a time, where the box has become small: no neighbour is left out.
  const isSmall = box.every(([low, high], f) => factors[f].kind === "choice" || high - low <= 4);
  if (isSmall) for (const neighbour of neighboursOf(best, factors)) if (found.size < NEW) take(neighbour);
  for (let tried = 0; found.size < NEW && tried < TRIES; tried++)
    take(
      best.map((step, f) => {
        const [low, high] = box[f];
        if (factors[f].kind === "choice" && uniform() < 0.7) return step;
        return low + Math.floor(uniform() * (high - low + 1));
      }),
    );
  if (round % 3 === 0 && !isSmall)
    for (let tried = 0; found.size < NEW + 1 && tried < TRIES; tried++) take(anywhere(factors, uniform));
  return [...found.values()];
}

/** By factor, the steps from which places near the best are taken. */
function boxAround(
  best: SearchPoint,
  { tried }: Looking,
  factors: readonly SearchFactor[],
): (readonly [number, number])[] {
  return best.map((step, f) => {
    if (factors[f].kind === "choice") return [0, searchSteps(factors[f]) - 1] as const;
    let [low, high] = [0, searchSteps(factors[f]) - 1];
    for (const { point } of tried) {
      if (point[f] < step) low = Math.max(low, point[f]);
      else if (point[f] > step) high = Math.min(high, point[f]);
    }
    return [low, high] as const;
  });
}

function neighboursOf(best: SearchPoint, factors: readonly SearchFactor[]): SearchPoint[] {
  return factors.flatMap((factor, f) => {
    const steps = searchSteps(factor);
    const others =
      factor.kind === "choice"
        ? Array.from({ length: steps }, (_, i) => i).filter((i) => i !== best[f])
        : [best[f] - 1, best[f] + 1].filter((i) => i >= 0 && i < steps);
    return others.map((step) => best.map((of, i) => (i === f ? step : of)));
  });
}

const meanOf = (values: readonly number[], count: number): number => {
  let sum = 0;
  for (let i = 0; i < count; i++) sum += values[i];
  return sum / count;
};

/** Places by how good they are, by what is asked of them so far: those within the bound first. */
function ranked({ tried }: Looking, history: readonly Tried[], { better, bound }: SearchSettings): number[] {
  const scores = tried.map(({ need }, i) => {
    const { values = [], bounded = [] } = history[i] ?? {};
    const n = Math.min(need, values.length);
    const mean = n === 0 ? Number.NaN : meanOf(values, n);
    const good = better === "more" ? -mean : mean;
    const limited = bound && n > 0 ? meanOf(bounded, n) : 0;
    const beyond = bound ? Math.max(0, bound.better === "less" ? limited - bound.value : bound.value - limited) : 0;
    return { good: Number.isFinite(good) ? good : Infinity, beyond: Number.isFinite(beyond) ? beyond : Infinity };
  });
  return tried
    .map((_, i) => i)
    .sort((a, b) => scores[a].beyond - scores[b].beyond || scores[a].good - scores[b].good || a - b);
}

/** The end: the best of the finalists is selected by replications that nobody has seen in the search. */
function selecting(
  looking: Looking,
  history: readonly Tried[],
  settings: SearchSettings,
  path: readonly number[],
): SearchStep {
  const { better, budget, indifference, p } = settings;
  const order = ranked(looking, history, settings);
  const finalists = order
    .filter((i) => isWithin(looking, history, settings, i))
    .slice(0, MOST_FINALISTS)
    .sort((a, b) => a - b);
  if (finalists.length < 2) {
    const over = going(looking, path, "selecting", finalists);
    return { ...over, phase: "over", best: finalists[0] ?? undefined, holds: finalists.length === 1 };
  }
  const seen = Math.max(...finalists.map((i) => looking.tried[i].need));
  const catchUp = finalists.reduce((sum, i) => sum + seen - looking.tried[i].need, 0);
  const most = Math.max(10, Math.floor((budget - spentOf(looking) - catchUp) / finalists.length));
  const step = selectionStep(
    finalists.map((i) => history[i].values.slice(seen)),
    { method: "kim and nelson", better, p, indifference, firstStage: 10, most },
  );
  finalists.forEach((i, k) => (looking.tried[i].need = seen + step.wanted[k]));
  const state = going(looking, path, "selecting", finalists);
  if (step.selected === undefined) return state;
  return { ...state, phase: "over", best: finalists[step.selected], holds: step.holds };
}

/** Uniform numbers of a round: a substream each, so that rounds share none. */
function sourceOf(seed: number, round: number): () => number {
  const words = applyJump(substreamJump(round), applyJump(streamJump(2), seedWords(seed)));
  const source = new UniformSource(words);
  return () => source.next();
}
