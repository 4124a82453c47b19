import { compile, randomSources, readStudy, type Study } from "@busy-harbor/core";
import { hold, readWhole, setNumber, setStream, settingsOf } from "../src/streams/edits.ts";

const study = (): Study => {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Test",
    designs: [
      {
        id: "d",
        name: "Base",
        entityTypes: [{ id: "t", name: "Customer" }],
        elements: [
          { id: "in", kind: "arrivals", name: "In", at: [0, 0], entityType: "t", between: "exponential(3 min)" },
          { id: "desk", kind: "station", name: "Desk", at: [5, 0], time: "exponential(2 min)" },
          { id: "out", kind: "departures", name: "Out", at: [9, 0] },
        ],
        links: [
          { id: "a", from: "in", to: "desk" },
          { id: "b", from: "desk", to: "out" },
        ],
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.study;
};
const sourcesOf = (of: Study) => randomSources(compile(of).model);

test("what is said of a stream is kept as long as it says something", () => {
  const of = study();
  setStream(of, 7, { seed: 3 });
  setStream(of, 7, { name: "Desk" });
  expect(of.streams).toEqual([{ stream: 7, name: "Desk", seed: 3, again: false }]);
  setStream(of, 7, { seed: null, name: "" });
  expect(of.streams).toEqual([]);
  expect(settingsOf(of, 7)).toMatchObject({ seed: null, again: false });
});

test("arrivals are held and the rest varied, or the other way; a shared stream is held for all who share it", () => {
  const of = study();
  const again = () => sourcesOf(of).map(({ stream }) => settingsOf(of, stream).again);
  hold(of, sourcesOf(of), (s) => s.isArrival);
  expect(again()).toEqual([true, false]);
  hold(of, sourcesOf(of), (s) => !s.isArrival);
  expect(again()).toEqual([false, true]);
  const [arrivals, desk] = sourcesOf(of);
  setNumber(of, desk, arrivals.stream);
  expect(new Set(sourcesOf(of).map(({ stream }) => stream))).toEqual(new Set([arrivals.stream]));
  hold(of, sourcesOf(of), (s) => !s.isArrival);
  expect(again()).toEqual([true, true]);
  hold(of, sourcesOf(of), () => false);
  expect(of.streams).toEqual([]);
});

test.each([
  ["12", 12],
  [" 0 ", 0],
  ["", undefined],
  ["1.5", undefined],
  ["-1", undefined],
  ["2e9", undefined],
  ["x", undefined],
])("%j is the whole number %p", (text, number) => {
  expect(readWhole(text)).toBe(number);
});
