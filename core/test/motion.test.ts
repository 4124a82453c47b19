import { compile, type Frame, metresAlong, open, PHASE } from "../src/index.ts";
import { chain, study } from "./study.ts";

const framesOf = (elements: object[], links: object[], times: readonly number[]): Frame[] => {
  const { program, problems } = compile(
    study({ elements: elements as never, links: links as never, run: { length: "1000 s" } }),
  );
  if (!program) throw new Error(JSON.stringify(problems));
  const session = open(program, { seed: 1, replication: 1 });
  return times.map((time) => {
    session.advanceTo(time);
    return session.frame();
  });
};

test("who is under way is told by a segment: from where and when, at which speed, until when", () => {
  const arrive = { id: "in", kind: "arrivals", entityType: "t1", by: "list", listed: "0 s" };
  const [link] = chain("in", "out");
  const [frame] = framesOf(
    [arrive, { id: "out", kind: "departures", at: [30, 40] }],
    [{ ...link, kind: "timed", time: "100 s" }],
    [25],
  );
  expect([frame.phase[0], frame.place[0], frame.since[0], frame.until[0]]).toEqual([PHASE.moving, 2, 0, 100]);
  expect([frame.motion.from[0], frame.motion.to[0], frame.motion.speed[0]]).toEqual([0, 50, 0.5]);
  // The same segment tells where it was before the frame, and where it will be.
  expect([-5, 0, 25, 80, 100, 200].map((time) => metresAlong(frame, 0, time))).toEqual([0, 0, 12.5, 40, 50, 50]);
});

test("who stands has no speed; a unit is where it is in use, else at home", () => {
  const [before, during] = framesOf(
    [
      { id: "in", kind: "arrivals", entityType: "t1", by: "list", listed: "10 s" },
      { id: "s", kind: "station", time: "50 s", needs: [{ id: "n", anyOf: ["crew"] }] },
      { id: "out", kind: "departures" },
      { id: "crew", kind: "crew", count: "2" },
    ],
    chain("in", "s", "out"),
    [5, 20],
  );
  expect([...before.unitPlaces[3]]).toEqual([3, 3]);
  expect([...during.unitPlaces[3]]).toEqual([1, 3]);
  expect([during.motion.speed[0], during.phase[0], during.until[0]]).toEqual([0, PHASE.working, 60]);
});
