import type { DesignOf } from "../document/design.ts";
import type { ElementBase } from "../document/element.ts";
import type { FleetSettings } from "../lowering/carrying.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Model, Node } from "../model/model.ts";
import { choice, length, longText, number, reference, rows, share, time, type ValuesOf } from "../settings/setting.ts";
import type { Phrase, Report } from "./kind.ts";
import { readTimes } from "./readTimes.ts";
import { listed, strong } from "./words.ts";

type Values = Readonly<Record<string, unknown>>;
const tours = ({ runs }: Values): boolean => runs === "on a tour";
const byTime = (of: Values): boolean => tours(of) && of.tours !== "listed";
const asked = (of: Values): boolean => !tours(of);
const filled = (text: unknown): boolean => typeof text === "string" && text.trim() !== "";
const refills = ({ range }: Values): boolean => filled(range);

/** When vehicles set out, for whom, and where they call. */
export const TRIPS = {
  runs: choice("Sets out", "When one sets out: whenever somebody asks, or at its times for a tour of stops.", [
    ["on request", "when somebody asks"],
    ["on a tour", "on a tour, at its times"],
  ]),
  trip: choice(
    "One trip is for",
    "Whom one takes along besides the one that it sets out for, as far as they fit.",
    [
      ["same way", "those who go the same way"],
      ["same place", "all who wait at one place"],
      ["several stops", "all who wait anywhere"],
    ],
    { used: asked },
  ),
  visits: choice(
    "Goes next to",
    "Of the places of a trip: first those where somebody is picked up, then those where somebody is put down.",
    [
      ["nearest", "the nearest"],
      ["in order", "that of who asked first"],
    ],
    { used: (of) => asked(of) && of.trip !== "same way" },
  ),
  least: number(
    "Sets out with",
    "So much must wait before one sets out, or as much as it carries. Empty: it goes for anyone.",
    {
      optional: true,
      fixed: true,
      above: 0,
      used: asked,
    },
  ),
  patience: time("Waits at most", "After that one sets out for who waits with what there is. Empty: for ever.", {
    optional: true,
    draws: 7,
    drawsWhere: ({ least }) => filled(least),
    used: (of) => asked(of) && filled(of.least),
  }),
  stops: rows("Stops", "Places at which it calls in turn: it puts down who goes on from there, and takes who waits.", {
    one: "stop",
    most: 100,
    used: tours,
    row: {
      stop: reference("element", "Stop", "The element at which it calls.", { orItself: true }),
      stay: time("Stands there", "From when it has come, at least.", { initial: "0 s", entity: false, draws: 120 }),
    },
  }),
  tours: choice(
    "Tours begin",
    "At equal or random times from one to the next, or at times that are listed.",
    [
      ["every", "by the time between them"],
      ["listed", "at listed times"],
    ],
    { used: tours },
  ),
  tourTimes: longText("Times, one a line", "When tours begin, one a line or separated by commas.", "7 h\n9.5 h\n16 h", {
    told: "listed times",
    used: (of) => tours(of) && of.tours === "listed",
  }),
  tourFirst: time("First tour", "When the first begins.", {
    initial: "0 s",
    entity: false,
    draws: 8,
    drawsWhere: tours,
    used: byTime,
  }),
  tourEvery: time(
    "Time between tours",
    "From when one is due to the next; one that is late begins when a vehicle is there.",
    {
      initial: "1 h",
      entity: false,
      draws: 9,
      drawsWhere: tours,
      used: byTime,
    },
  ),
};

/** How far vehicles go, and where they refill. */
export const CHARGE = {
  range: length("Range", "How far one goes with a full battery or tank. Empty: without end.", {
    optional: true,
    above: 0,
  }),
  below: share("Refills below", "After a trip one refills when no more than this share of its range is left.", {
    initial: "20 %",
    fixed: true,
    used: refills,
  }),
  refillAt: reference("element", "Refills at", "The element at which it does.", { none: "its home", used: refills }),
  refillTime: time("Time to refill", "Until its battery or tank is full.", {
    initial: "30 min",
    entity: false,
    draws: 10,
    drawsWhere: refills,
    used: refills,
  }),
};

type Trips = ElementBase & ValuesOf<typeof TRIPS & typeof CHARGE>;

/** Whether places exist at which vehicles call or refill, and those who are carried on a tour go along it. */
export function checkTrips(
  element: Trips & { readonly answers: string },
  report: Report,
  { elements, links }: DesignOf,
): void {
  const isThere = (id: string) => elements.some((one) => one.id === id);
  if (filled(element.range) && element.refillAt !== "" && !isThere(element.refillAt))
    report("missing-element", "refillAt", "The element at which it refills does not exist.", "Choose another.");
  if (element.runs !== "on a tour") return;
  if (element.tours === "listed") {
    const { times, problem } = readTimes(element.tourTimes);
    if (problem || times.length === 0)
      report("bad-list", "tourTimes", problem ?? "It lists no time.", "Write one time a line, such as 7 h.");
  }
  if (element.answers === "least value")
    report(
      "no-value",
      "answers",
      "A tour begins for nobody, so no value is there by which one of them would answer.",
      "Let the first in order, the nearest, or that idle longest set out.",
    );
  if (element.stops.length < 2)
    report(
      "no-stops",
      "stops",
      "A tour needs two stops at least.",
      "Add the places at which it calls, in their order.",
    );
  for (const { id, stop } of element.stops)
    if (!isThere(stop))
      report("missing-element", `stops.${id}.stop`, "It is not said at which element it calls.", "Choose one.");
  for (const link of links) {
    if (link.kind !== "carried" || link.by !== element.id) continue;
    const from = element.stops.findIndex(({ stop }) => stop === link.from);
    if (from >= 0 && element.stops.slice(from + 1).some(({ stop }) => stop === link.to)) continue;
    const nameOf = (id: string) => elements.find((one) => one.id === id)?.name ?? id;
    report(
      "not-on-tour",
      "stops",
      `It is to carry from ${nameOf(link.from)} to ${nameOf(link.to)}, and its tour does not come to the one after the other.`,
      "Add both as stops in this order, or have another carry along the link.",
    );
  }
}

/** What the fleet is told of trips, tours and its range. */
export function readTrips(
  node: Node<Trips>,
  { expressions, model }: Lowering,
): Pick<FleetSettings, "trip" | "visits" | "batch" | "tour" | "charge"> {
  const { element, settings } = node;
  const constant = (field: string) => settings.get(field)?.constant;
  const read = (field: string) => expressions.readLater(node, field, 0);
  const indexOf = (id: string) => model.nodes.find((one) => one.element.id === id)?.index ?? node.index;
  const isTour = element.runs === "on a tour";
  const least = constant("least");
  const range = constant("range");
  return {
    trip: element.trip,
    visits: element.visits,
    batch:
      least === undefined || isTour
        ? undefined
        : { least, patience: settings.has("patience") ? read("patience") : undefined },
    tour: isTour
      ? {
          stops: element.stops.map(({ id, stop }) => ({ place: indexOf(stop), stay: read(`stops.${id}.stay`) })),
          first: read("tourFirst"),
          between: read("tourEvery"),
          listed:
            element.tours === "listed" ? [...readTimes(element.tourTimes).times].sort((a, b) => a - b) : undefined,
        }
      : undefined,
    charge:
      range === undefined
        ? undefined
        : { range, below: constant("below") ?? 0, place: indexOf(element.refillAt), time: read("refillTime") },
  };
}

/** The same in words. */
export function tripWords(element: Trips, { nodes }: Pick<Model, "nodes">): Phrase[] {
  const nameOf = (id: string) => nodes.find((one) => one.element.id === id)?.element.name ?? "no element yet";
  const said: Phrase[] = [];
  if (element.runs === "on a tour")
    said.push(
      ...(element.tours === "listed"
        ? [" Tours begin at ", strong(String(readTimes(element.tourTimes).times.length)), " listed times, by "]
        : [
            " A tour begins at ",
            strong(element.tourFirst),
            " and every ",
            strong(element.tourEvery),
            " after that, by ",
          ]),
      ...listed(element.stops.map(({ stop }) => nameOf(stop))),
      ": who waits at a stop for a later one comes along.",
    );
  else {
    if (element.trip !== "same way")
      said.push(
        element.trip === "same place"
          ? " One trip is for all who wait at one place and fit, in their order: "
          : " One trip is for all who wait and fit, in their order: ",
        element.visits === "nearest" ? "it goes to the nearest place next" : "it goes to who asked first next",
        ", first to pick up, then to put down.",
      );
    if (filled(element.least))
      said.push(
        " It sets out when ",
        strong(element.least),
        " of its load waits",
        ...(filled(element.patience) ? [", or somebody has for ", strong(element.patience)] : []),
        ".",
      );
  }
  if (filled(element.range))
    said.push(
      " It goes ",
      strong(element.range),
      " with a full battery or tank, and when ",
      strong(element.below),
      " or less is left after a trip it refills at ",
      element.refillAt === "" ? "home" : nameOf(element.refillAt),
      " for ",
      strong(element.refillTime),
      ".",
    );
  return said;
}
