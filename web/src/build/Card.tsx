import {
  type Design,
  type Element,
  fingerprint,
  kindOf,
  type Model,
  type Phrase,
  type Problem,
  readBack,
  type Study,
  WAYS_OUT,
  definitionOf,
} from "@busy-harbor/core";
import { ChevronDown, ChevronUp } from "lucide-react";
import { lazy, Suspense, useEffect, useMemo, useState } from "react";
import { useCompiled } from "../state/compiled.ts";
import { meanText, readingsOf } from "../measure/readings.ts";
import { placed } from "../state/edits.ts";
import { PlaceContext } from "../experiments/placeAtHand.ts";
import { runsOfDesigns, useRuns } from "../state/runs.ts";
import { useStudy } from "../state/study.ts";
import { renameEverywhere } from "./renameEverywhere.ts";
import { useShownId } from "../state/shown.ts";
import { DISPLAY_LABELS, showDisplay } from "../displays/displayStore.ts";
import { DesignCard } from "./DesignCard.tsx";
import { ChoiceRow, LengthRow, NameRow, ReadRow, Section } from "./fields.tsx";
import { Picture } from "../displays/Picture.tsx";
import { choosePicture } from "./placeDisplay.ts";
import { showLength } from "./length.ts";
import { ROAD_LABELS } from "./layRoad.ts";
import { ProblemList } from "./ProblemList.tsx";
import { formOf } from "./settings/forms.tsx";
import { FamilySection } from "./FamilySection.tsx";
import { Fold, makeKit } from "./settings/kit.tsx";
import { usersOf } from "./whereUsed.ts";
import { SortableList } from "../ui/SortableList.tsx";
import { DeleteButton } from "./DeleteButton.tsx";
import { linkName, ordersWays, reorderWays, TAKES, WAY_OUT_LABELS, wayName } from "./ways.ts";
import { WayRow } from "./WayRow.tsx";

const OwnLogic = lazy(() => import("./OwnLogic.tsx"));

/** What is seldom at hand is fetched when it is. */
const SeveralCard = lazy(() => import("./SeveralCard.tsx").then((m) => ({ default: m.SeveralCard })));
const LinkCard = lazy(() => import("./LinkCard.tsx").then((m) => ({ default: m.LinkCard })));
const RoadCard = lazy(() => import("./RoadCard.tsx").then((m) => ({ default: m.RoadCard })));
const DisplayCard = lazy(() => import("./DisplayCard.tsx").then((m) => ({ default: m.DisplayCard })));
const DrawingCard = lazy(() => import("./DrawingCard.tsx").then((m) => ({ default: m.DrawingCard })));

/** Measures of an element that its card shows; Measure has them all. */
const MOST_MEASURES = 6;

/** The card of the selection: what it is, what it does in words, its settings and its problems. */
export function Card({ study, design }: { study: Study; design: Design }) {
  const [folded, setFolded] = useState(false);
  const selection = useStudy((s) => s.selection);
  const compilation = useCompiled();
  const elements = design.elements.filter((e) => selection.includes(e.id));
  const links = design.links.filter((l) => selection.includes(l.id));
  const roads = (design.roads ?? []).filter((r) => selection.includes(r.id));
  const count = elements.length + links.length + roads.length;
  const problems = compilation?.problems ?? [];
  const drawingId = useShownId("drawing");
  const drawing = count === 0 ? study.drawings.find((d) => d.id === drawingId) : undefined;
  const displayId = useShownId("display");
  const display = count === 0 ? design.displays.find((d) => d.id === displayId) : undefined;
  const title = display
    ? display.title || DISPLAY_LABELS[display.kind]
    : drawing
      ? drawing.name
      : count === 0
        ? design.name
        : count > 1
          ? `${count} selected`
          : (elements[0]?.name ??
            (links[0] ? linkName(design, links[0]) : roads[0].name || ROAD_LABELS[roads[0].kind]));
  const kind = display
    ? "Display"
    : drawing
      ? "Background drawing"
      : count === 0
        ? "Design"
        : count > 1
          ? "Several"
          : elements[0]
            ? kindOf(elements[0]).label
            : links[0]
              ? "Link"
              : ROAD_LABELS[roads[0].kind];
  return (
    <aside
      aria-label="Card"
      data-testid="card"
      data-covers="right"
      className="panel float flex max-h-full flex-col overflow-hidden"
    >
      <header className="flex items-start justify-between px-4 pt-3 pb-2">
        <div className="min-w-0">
          <p className="text-soft">{kind}</p>
          <h2 className="truncate text-base" data-tip={title}>
            {title}
          </h2>
        </div>
        <button
          className="button button-quiet -mr-2 text-soft"
          aria-expanded={!folded}
          onClick={() => setFolded(!folded)}
        >
          {folded ? <ChevronDown size={14} /> : <ChevronUp size={14} />} {folded ? "unfold" : "fold"}
        </button>
      </header>
      {!folded && (
        <div className="overflow-y-auto px-4 pb-3">
          {drawing && (
            // As high as it will be, as what is fitted keeps clear of it.
            <Suspense fallback={<div className="h-[420px]" />}>
              <DrawingCard key={drawing.id} drawing={drawing} study={study} />
            </Suspense>
          )}
          {display && (
            <Suspense fallback={<div className="h-[420px]" />}>
              <DisplayCard
                key={display.id}
                display={display}
                study={study}
                problems={problems.filter((p) => p.id === display.id)}
              />
            </Suspense>
          )}
          {count === 0 && !drawing && !display && <DesignCard study={study} design={design} problems={problems} />}
          {count === 1 && elements[0] && (
            <ElementCard
              key={elements[0].id}
              element={elements[0]}
              design={design}
              study={study}
              model={compilation?.model}
              problems={problems.filter((p) => p.id === elements[0].id)}
              allProblems={problems}
            />
          )}
          {count === 1 && links[0] && (
            <Suspense>
              <LinkCard
                key={links[0].id}
                link={links[0]}
                design={design}
                study={study}
                model={compilation?.model}
                problems={problems.filter((p) => p.id === links[0].id)}
              />
            </Suspense>
          )}
          {count === 1 && roads[0] && (
            <Suspense>
              <RoadCard
                key={roads[0].id}
                road={roads[0]}
                design={design}
                study={study}
                problems={problems.filter((p) => p.id === roads[0].id)}
              />
            </Suspense>
          )}
          {count > 1 && elements.length > 0 && (
            <Suspense>
              <SeveralCard elements={elements} />
            </Suspense>
          )}
          {count > 1 && <DeleteButton label={`Delete these ${count}`} />}
        </div>
      )}
    </aside>
  );
}

function Words({ phrases }: { phrases: readonly Phrase[] }) {
  return (
    <p
      data-testid="read-back"
      className="mb-2.5 rounded-md border-l-[3px] border-action bg-water px-3 py-2 leading-[1.5] wrap-anywhere"
    >
      {phrases.map((p, i) =>
        typeof p === "string" ? (
          p
        ) : (
          <strong key={i} className="font-semibold">
            {p.strong}
          </strong>
        ),
      )}
    </p>
  );
}

function ElementCard({
  element,
  design,
  study,
  model,
  problems,
  allProblems,
}: {
  element: Element;
  design: Design;
  study: Study;
  model: Model | undefined;
  problems: readonly Problem[];
  allProblems: readonly Problem[];
}) {
  const { select } = useStudy();
  const node = model?.nodes.find((n) => (n.member?.family.id ?? n.element.id) === element.id);
  const place = useMemo(() => ["elements", element.id], [element.id]);
  const kit = makeKit(element, design, study, node, problems);
  const { of, was, set } = kit;
  const original = study.designs.find((d) => d.id === design.copiedFrom)?.elements.find((e) => e.id === element.id);
  const general = problems.filter((p) => p.field === undefined || p.field === "id");
  const from = design.links.filter((l) => l.from === element.id);
  const ways = from.filter((l) => l.takes === "done");
  return (
    <>
      {node && model && <Words phrases={readBack(node, model)} />}
      {general.length > 0 && <ProblemList problems={general} />}
      <NameRow
        name="name"
        label="Name"
        was={was("name")}
        value={element.name}
        problems={of("name")}
        onChange={(v) => set("name", v, "name")}
        onRenamed={renameEverywhere}
      />
      <PlaceContext value={place}>{formOf(kit)}</PlaceContext>
      {"wayOut" in element && (
        <Section title="Way out">
          {(ways.length > 1 || ["named", "route"].includes(element.wayOut) || study.tables.some((t) => t.route)) && (
            <ChoiceRow
              name="wayOut"
              label="Choose"
              was={was("wayOut")}
              value={element.wayOut}
              choices={WAYS_OUT.map((w) => [w, WAY_OUT_LABELS[w]] as const)}
              problems={of("wayOut")}
              onChange={(v) => set("wayOut", v, "way out")}
            />
          )}
          {kit.row("destination")}
          {ways.length === 0 && (
            <p className="text-soft">None yet. Drag from its edge to another element, or press L.</p>
          )}
          <SortableList
            ids={ways.map((link) => link.id)}
            nameOf={(id) => wayName(design, id)}
            onMove={(from, to) => reorderWays(ways[from].id, ways[to].id)}
          >
            {(id, i, grip) => (
              <div className="flex items-start gap-1">
                <div className="min-w-0 grow">
                  <WayRow
                    link={ways[i]}
                    design={design}
                    element={element}
                    problems={allProblems.filter((p) => p.id === id)}
                    onSelect={() => select([id])}
                  />
                </div>
                {ordersWays(element) && <span className="mt-2">{grip}</span>}
              </div>
            )}
          </SortableList>
          {from
            .filter((l) => l.takes !== "done")
            .map((link) => (
              <div key={link.id} className="flex items-center justify-between py-0.5">
                <button
                  className="rounded px-1 text-action underline-offset-2 hover:underline"
                  onClick={() => select([link.id])}
                >
                  {design.elements.find((e) => e.id === link.to)?.name ?? "nowhere"}
                </button>
                <span className="text-soft">{TAKES[link.takes]}</span>
              </div>
            ))}
        </Section>
      )}
      <FamilySection element={element} design={design} study={study} model={model} problems={problems} />
      <Suspense>
        <OwnLogic element={element} design={design} problems={problems} />
      </Suspense>
      <Place element={element} original={original} study={study} />
      <PictureOf element={element} />
      <WhereUsed element={element} design={design} />
      <LatestMeasures element={element} study={study} design={design} />
      <DeleteButton label="Delete" />
    </>
  );
}

/** Where the element stands, typed to the millimetre. */
function Place({ element, original, study }: { element: Element; original: Element | undefined; study: Study }) {
  const { changeDesign } = useStudy();
  const axis = (label: string, index: 0 | 1) => (
    <LengthRow
      name={`at-${label}`}
      label={label}
      metres={element.at[index]}
      was={
        original && original.at[index] !== element.at[index] ? showLength(original.at[index], study.units) : undefined
      }
      units={study.units}
      onChange={(metres) =>
        changeDesign(
          `Move ${element.name}`,
          (d) => {
            const target = d.elements.find((e) => e.id === element.id);
            if (target) target.at = placed(index === 0 ? [metres, target.at[1]] : [target.at[0], metres]);
          },
          `${element.id}/at`,
        )
      }
    />
  );
  return (
    <Section title={element.locked ? "Place, locked" : "Place"}>
      {axis("Across", 0)}
      {axis("Down", 1)}
    </Section>
  );
}

/** A picture of one's own in place of the symbol. */
function PictureOf({ element }: { element: Element }) {
  const { changeDesign } = useStudy();
  const { picture } = element;
  const set = (what: string, recipe: (target: Element) => void) =>
    changeDesign(
      `${what} of ${element.name}`,
      (d) => {
        const target = d.elements.find((e) => e.id === element.id);
        if (target) recipe(target);
      },
      `${element.id}/picture/${what}`,
    );
  const number = (name: "size" | "turn", label: string, least: number, most: number, refusal: string) =>
    picture && (
      <ReadRow
        name={`picture-${name}`}
        label={label}
        shown={String(picture[name])}
        read={(text) => {
          const n = Number(text.replace("°", ""));
          return text.trim() !== "" && n >= least && n <= most ? n : undefined;
        }}
        refusal={{ message: refusal, hint: `${picture[name]} is used until then.` }}
        onChange={(n) => set(`Change ${name} of picture`, (e) => e.picture && void (e.picture[name] = n))}
      />
    );
  return (
    <Fold title="Picture" open={picture !== undefined}>
      {picture && (
        <div className="flex justify-center py-1">
          <Picture file={picture.file} format={picture.format} width={96} title={element.name} />
        </div>
      )}
      {number("size", "Size, slots wide", 0.5, 20, "A number from 0.5 to 20 is wanted.")}
      {number("turn", "Turned, degrees", -360, 360, "A number from -360 to 360 is wanted.")}
      <div className="flex gap-2 py-1">
        <button
          className="button"
          onClick={() =>
            void choosePicture().then(
              (chosen) =>
                chosen && set("Picture", (e) => void (e.picture = { size: 2, turn: 0, ...e.picture, ...chosen })),
            )
          }
        >
          {picture ? "Another picture" : "Choose a picture"}
        </button>
        {picture && (
          <button className="button" onClick={() => set("Symbol again", (e) => void delete e.picture)}>
            Symbol again
          </button>
        )}
      </div>
    </Fold>
  );
}

/** Who reads this element in an expression. */
function WhereUsed({ element, design }: { element: Element; design: Design }) {
  const select = useStudy((s) => s.select);
  const users = useMemo(() => usersOf(element, design), [element, design]);
  if (users.length === 0) return null;
  return (
    <Section title="Read by">
      {users.map((user) => (
        <div key={`${user.id}/${user.field}`} className="flex justify-between py-0.5">
          <button
            className="rounded px-1 text-action underline-offset-2 hover:underline"
            onClick={() =>
              user.kind === "display"
                ? showDisplay(user.id)
                : select(user.kind === "entity type" || user.kind === "measure" ? [] : [user.id])
            }
          >
            {user.name}
          </button>
          <span className="text-soft">{user.field}</span>
        </div>
      ))}
    </Section>
  );
}

/** What the latest finished run of this design measured here. */
function LatestMeasures({ element, study, design }: { element: Element; study: Study; design: Design }) {
  const runs = useRuns((s) => s.runs);
  const figures = useRuns((s) => s.figures);
  const fetchFigures = useRuns((s) => s.fetchFigures);
  const run = runsOfDesigns(runs).find((r) => r.designId === design.id && r.state === "done");
  const found = run && figures.get(run.id);
  useEffect(() => {
    // What cannot be fetched now is not shown; the bar says when the server does not answer.
    if (run && !found) fetchFigures(run.id).catch(() => undefined);
  }, [run, found, fetchFigures]);
  const level = run?.settings.level;
  const rows = useMemo(
    () =>
      found && level
        ? readingsOf(found, study.units, level)
            .filter((r) => r.measure.ownerId === element.id && r.interval.n > 0)
            .slice(0, MOST_MEASURES)
        : [],
    [found, level, study.units, element.id],
  );
  if (!run || rows.length === 0) return null;
  const changed = run.fingerprint !== fingerprint(design, study.run, study);
  return (
    <Section title={`Run ${run.number}${changed ? ", before the latest changes" : ""}`}>
      <dl>
        {rows.map(({ measure, interval, unit }) => {
          const { mean, halfWidth } = meanText(interval);
          return (
            <div key={measure.key} className="flex justify-between gap-3 py-0.5" data-tip={definitionOf(measure)}>
              <dt className="min-w-0 text-soft">{measure.label}</dt>
              <dd className="shrink-0 tabular-nums">
                {mean}
                {halfWidth && <span className="text-soft"> ± {halfWidth}</span>} {unit}
              </dd>
            </div>
          );
        })}
      </dl>
    </Section>
  );
}
