import {
  type Design,
  displayUnit,
  formatNumber,
  LENGTH,
  polylineLength,
  type Problem,
  type Road,
  ROAD_KINDS,
  ROAD_SETTINGS,
  type Study,
} from "@busy-harbor/core";
import { drawnRoad, shownRoad } from "../floor/roads.ts";
import { placed } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { Checkbox } from "../ui/Checkbox.tsx";
import { NumberBox } from "../ui/NumberBox.tsx";
import { DeleteButton } from "./DeleteButton.tsx";
import { ChoiceRow, TextRow } from "./fields.tsx";
import { ROAD_LABELS } from "./layRoad.ts";
import { RoadTraffic, trafficWords } from "./RoadTraffic.tsx";

/** How fields are called in the list of changes, where that is not their name. */
const CALLED: Readonly<Partial<Record<keyof Road, string>>> = {
  oneWay: "direction",
  oneAtATime: "directions at a time",
  keepsOrder: "passing",
  factor: "what counts",
  calendar: "hours",
  closedWhile: "when closed",
  follow: "what is measured",
  roomEach: "whose room it is",
  every: "breakdowns",
};

/** The card of a walkway or road: who goes there, which way, how fast, and where it runs. */
export function RoadCard({
  road,
  design,
  study,
  problems,
}: {
  road: Road;
  design: Design;
  study: Study;
  problems: readonly Problem[];
}) {
  const changeDesign = useStudy((s) => s.changeDesign);
  const set = <K extends keyof Road>(field: K, value: Road[K]) =>
    changeDesign(
      `Change ${CALLED[field] ?? field} of ${road.name || road.kind}`,
      (d) => {
        const one = d.roads?.find((r) => r.id === road.id);
        if (one) one[field] = value;
      },
      `${road.id}/${field}`,
    );
  const setPoint = (index: number, axis: 0 | 1, shown: number) =>
    changeDesign(
      "Move point",
      (d) => {
        const one = d.roads?.find((r) => r.id === road.id);
        if (!one) return;
        const point = [...drawnRoad(road, design)[index]] as [number, number];
        point[axis] = shown * factor;
        one.points[index] = placed(point);
        // An end that is put elsewhere is at no element any more.
        if (index === 0) one.from = "";
        if (index === one.points.length - 1) one.to = "";
      },
      `${road.id}/${index}/${axis}`,
    );
  const { symbol, factor } = displayUnit(LENGTH, study.units);
  const points = drawnRoad(road, design);
  const nameAt = (id: string) => design.elements.find((e) => e.id === id)?.name;
  const ends = [nameAt(road.from), nameAt(road.to)];
  return (
    <>
      <p
        data-testid="read-back"
        className="mb-2.5 rounded-md border-l-[3px] border-action bg-water px-3 py-2 leading-[1.5]"
      >
        {`${ROAD_LABELS[road.kind]} of ${formatNumber(polylineLength(shownRoad(road, design)) / factor)} ${symbol}`}
        {ends[0] && ` from ${ends[0]}`}
        {ends[1] && ` to ${ends[1]}`}
        {road.oneWay ? ", one way" : ", both ways"}
        {road.limit.trim() !== "" && `, at most ${road.limit}`}
        {trafficWords(road, study)}. Links of the kind &ldquo;over the ways&rdquo; take the shortest way over all that
        are joined, or the quickest.
      </p>
      <TextRow
        name="name"
        label="Name"
        mono={false}
        value={road.name}
        placeholder={ROAD_LABELS[road.kind]}
        problems={[]}
        onChange={(text) => text.length <= 120 && set("name", text)}
      />
      <ChoiceRow
        name="kind"
        label="Kind"
        value={road.kind}
        choices={ROAD_KINDS.map((kind) => [kind, ROAD_LABELS[kind].toLowerCase()] as const)}
        problems={[]}
        onChange={(kind) => set("kind", kind)}
      />
      <TextRow
        name="limit"
        label={ROAD_SETTINGS.limit.label}
        help={ROAD_SETTINGS.limit.help}
        value={road.limit}
        placeholder="none"
        expression={{}}
        problems={problems.filter(({ field }) => field === "limit")}
        onChange={(text) => set("limit", text)}
      />
      <TextRow
        name="radius"
        label={ROAD_SETTINGS.radius.label}
        help={ROAD_SETTINGS.radius.help}
        value={road.radius ?? ""}
        placeholder="corners"
        expression={{}}
        problems={problems.filter(({ field }) => field === "radius")}
        onChange={(text) => set("radius", text === "" ? undefined : text)}
      />
      <RoadTraffic road={road} study={study} problems={problems} set={set} />
      <Checkbox
        checked={road.oneWay}
        className="flex items-center gap-2 py-1"
        onChange={(oneWay) => set("oneWay", oneWay)}
      >
        One way, from its first point to its last
      </Checkbox>
      <div className="py-1">
        <NumberBox
          label={`Width, ${symbol}`}
          value={Number((road.width / factor).toPrecision(10))}
          least={0.3 / factor}
          most={50 / factor}
          onChange={(width) => set("width", width * factor)}
        />
      </div>
      <details className="py-1">
        <summary className="py-1 text-soft">
          {points.length} points, {symbol}
        </summary>
        {points.map((point, index) => (
          <div key={index} className="flex gap-2 py-0.5">
            {([0, 1] as const).map((axis) => (
              <NumberBox
                key={axis}
                label={`${index + 1}: ${axis === 0 ? "from the left" : "down"}`}
                value={Number((point[axis] / factor).toPrecision(10))}
                onChange={(shown) => setPoint(index, axis, shown)}
              />
            ))}
          </div>
        ))}
      </details>
      <p className="py-1.5 text-xs text-soft">
        Drag a point to move it, or the way between two to bend it; double-click a point to take it out. Ways are joined
        where they share a point.
      </p>
      <DeleteButton label="Delete" />
    </>
  );
}
