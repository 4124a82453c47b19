import { type Design, readStudy, type Study } from "@busy-harbor/core";
import { addRoad, bendRoad, moveRoadPoint, straightenRoad } from "../src/build/layRoad.ts";
import { drawnRoad, jointNear, roadsOf } from "../src/floor/roads.ts";
import { useView } from "../src/floor/viewStore.ts";
import { move } from "../src/state/arrange.ts";
import { remove } from "../src/state/edits.ts";
import { startHistory } from "../src/state/history.ts";
import { useStudy } from "../src/state/study.ts";

const yard = (roads: object[]): Study => {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Yard",
    designs: [
      {
        id: "d",
        name: "Base",
        entityTypes: [{ id: "t", name: "Truck" }],
        elements: [
          { id: "a", kind: "arrivals", name: "Gate", at: [0, 0], entityType: "t" },
          { id: "o", kind: "departures", name: "Out", at: [40, 0] },
        ],
        roads,
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.study;
};

beforeAll(() => void jest.useFakeTimers());

/** Puts a study at hand, seen so that a metre is ten pixels and its origin is in the middle. */
function open(roads: object[]): () => Design {
  const study = yard(roads);
  useStudy.setState({ id: "s", history: startHistory(study), designId: "d", selection: [], save: "saved" });
  useView.setState({ view: { x: 0, y: 0, scale: 10 }, size: { width: 800, height: 600 } });
  return () => useStudy.getState().history!.present.designs[0];
}
const points = (design: Design) => roadsOf(design).map((road) => drawnRoad(road, design).map((p) => [...p]));

test("a way is joined to an element first, then to a point of another, then along it; else to nothing", () => {
  const design = yard([
    {
      id: "r",
      points: [
        [0, 10],
        [20, 10],
        [40, 10],
      ],
    },
  ]).designs[0];
  expect(jointNear(design, [0.4, 0.3], 1)).toEqual({ at: [0, 0], element: "a", joins: true });
  expect(jointNear(design, [19.5, 10.2], 1)).toEqual({ at: [20, 10], joins: true });
  expect(jointNear(design, [12, 10.6], 1)).toEqual({ at: [12, 10], on: { road: "r", segment: 1 }, joins: true });
  expect(jointNear(design, [12, 15], 1)).toBeUndefined();
  expect(jointNear(design, [12, 10.6], 1, () => false)).toBeUndefined();
});

test("one that joins another along its length gives it a point there, in one step, and is undone in one", () => {
  const design = open([
    {
      id: "r",
      points: [
        [0, 10],
        [40, 10],
      ],
    },
  ]);
  addRoad("road", [
    { at: [12, 10], on: { road: "r", segment: 1 } },
    { at: [40, 0], element: "o" },
  ]);
  expect(points(design())).toEqual([
    [
      [0, 10],
      [12, 10],
      [40, 10],
    ],
    [
      [12, 10],
      [40, 0],
    ],
  ]);
  expect(roadsOf(design())[1]).toMatchObject({ kind: "road", from: "", to: "o" });
  expect(useStudy.getState().selection).toEqual([roadsOf(design())[1].id]);
  useStudy.getState().undo();
  expect(points(design())).toEqual([
    [
      [0, 10],
      [40, 10],
    ],
  ]);
});

test("points are put in, moved and taken out; an end that is moved off its element is at none", () => {
  const design = open([
    {
      id: "r",
      points: [
        [0, 0],
        [20, 0],
      ],
      from: "a",
    },
  ]);
  useStudy.getState().select(["r"]);
  bendRoad("r", 1, [500, 350]);
  expect(points(design())[0]).toHaveLength(3);
  moveRoadPoint("r", 0, [300, 500], "k");
  expect(roadsOf(design())[0].from).toBe("");
  straightenRoad("r", 1);
  expect(points(design())[0]).toHaveLength(2);
  straightenRoad("r", 1);
  // It keeps two.
  expect(points(design())[0]).toHaveLength(2);
});

test("ends go with their elements, stay where they are when these are deleted, and ways go with what is moved", () => {
  const { designs } = structuredClone(
    yard([
      {
        id: "r",
        points: [
          [0, 0],
          [20, 5],
          [40, 0],
        ],
        from: "a",
        to: "o",
      },
      {
        id: "q",
        points: [
          [0, 0],
          [0, 9],
        ],
        from: "a",
      },
    ]),
  ) as { designs: Design[] };
  const [design] = designs;
  move(design, new Set(["a"]), 0, 4);
  expect(points(design)[0][0]).toEqual([0, 4]);
  expect(points(design)[0][1]).toEqual([20, 5]);
  move(design, new Set(["a", "o"]), 10, 0);
  expect(points(design)[0][1]).toEqual([30, 5]);
  remove(design, new Set(["a"]));
  expect(points(design)[0][0]).toEqual([10, 4]);
  expect(roadsOf(design).map(({ from }) => from)).toEqual(["", ""]);
  remove(design, new Set(["q", "r"]));
  expect(design.roads).toBeUndefined();
});
