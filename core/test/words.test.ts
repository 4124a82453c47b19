import { compile, freshName, phraseText, problemText, readBack } from "../src/index.ts";
import { chain, study } from "./build.ts";

type Loose = Record<string, unknown>;

function words(id: string, elements: Loose[], links: Loose[]): string {
  const { model } = compile(study({ elements, links }));
  return phraseText(
    readBack(
      model.nodes.find((n) => n.element.id === id)!,
      model,
    ),
  );
}
const arrive = { id: "in", kind: "arrivals", name: "Gate", between: "30 s" };
const out = { id: "out", kind: "departures", name: "Aboard" };
const desks = [
  { id: "a", kind: "station", name: "A", time: "1 min" },
  { id: "b", kind: "station", name: "B", time: "2 min" },
];
const both = [
  { from: "in", to: "a" },
  { from: "in", to: "b" },
  { from: "a", to: "out" },
  { from: "b", to: "out" },
];

describe("read-back sentences say what the model does", () => {
  test("arrivals", () => {
    expect(words("in", [{ ...arrive, first: "5 min", group: "3", limit: "40" }, out], chain("in", "out"))).toBe(
      "Brings in Customer, 3 at a time, one arrival every 30 s, the first at 5 min, at most 40 in all. Then on to Aboard.",
    );
  });
  test.each([
    ["share", {}, "Then to A and B in even shares."],
    ["shortest line", {}, "Then to whichever of A and B has the fewest in it or on the way to it."],
    ["in turn", {}, "Then to A and B in turn."],
    ["first free", {}, "Then to the first of A and B with room."],
  ])("ways out by %s", (wayOut, more, expected) => {
    expect(words("in", [{ ...arrive, wayOut, ...more }, ...desks, out], both)).toContain(expected);
  });
  test("shares and conditions are quoted as written", () => {
    expect(words("in", [arrive, ...desks, out], [{ ...both[0], share: "30 %" }, ...both.slice(1)])).toContain(
      "Then 30 % to A, the rest to B.",
    );
    expect(
      words(
        "in",
        [{ ...arrive, wayOut: "condition" }, ...desks, out],
        [{ ...both[0], condition: "clock > 1 h" }, ...both.slice(1)],
      ),
    ).toContain("Then if clock > 1 h to A; otherwise to B.");
  });
  test("room and what happens when it is full", () => {
    const q = { id: "q", kind: "queue", name: "Line" };
    expect(words("q", [arrive, { ...q, room: "5" }, desks[0], out], chain("in", "q", "a", "out"))).toBe(
      "Takes entities from Gate, first come first served, with room for 5; who finds it full waits outside. Then on to A.",
    );
    expect(
      words("q", [arrive, { ...q, room: "5", whenFull: "lose" }, desks[0], out], chain("in", "q", "a", "out")),
    ).toContain("who finds it full is lost");
    expect(words("a", [arrive, { ...desks[0], room: "2" }, out], chain("in", "a", "out"))).toContain(
      "Its own line has room for 2; who finds it full waits at the place before.",
    );
    expect(words("a", [arrive, desks[0], out], chain("in", "a", "out"))).toContain(
      "Its own line has room for any number.",
    );
  });
  test("an unfinished model is said as it stands", () => {
    expect(words("a", [arrive, desks[0]], [])).toBe(
      "Takes entities from nowhere yet, first come first served. 1 at once, 1 min each. Its own line has room for any number. Then nowhere yet.",
    );
    expect(words("out", [arrive, out], chain("in", "out"))).toBe("Entities from Gate leave the system here.");
  });
});

test("new elements get names of their own", () => {
  expect(freshName("Station", [])).toBe("Station");
  expect(freshName("Station", [{ name: "station" }, { name: "Station 2" }])).toBe("Station 3");
});

test("a problem on one line has its path, words, hint and code", () => {
  expect(
    problemText({
      code: "x",
      severity: "error",
      message: "Wrong.",
      hint: "Mend it.",
      path: ["designs", 0, "elements", 2, "time"],
    }),
  ).toBe("designs[0].elements[2].time: Wrong. Mend it. [x]");
});
