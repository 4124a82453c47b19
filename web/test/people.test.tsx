/** @jest-environment jsdom */
import { type Display, displaySchema, FIGURE_POSTURES } from "@busy-harbor/core";
import { cleanup, render, screen } from "@testing-library/react";
import { People } from "../src/displays/People.tsx";

const people = (more: object) =>
  displaySchema.parse({ kind: "people", id: "d", at: [0, 0], ...more }) as Extract<Display, { kind: "people" }>;

function shown(value: number, more: object = {}) {
  cleanup();
  render(<People display={people(more)} value={value} words={Number.isNaN(value) ? "–" : String(value)} />);
  const face = screen.getByRole("img");
  return { figures: face.querySelectorAll("[data-figure]").length, label: face.ariaLabel, text: face.textContent };
}

test("as many people are drawn as the number says, and of more than fit the number is told", () => {
  expect(shown(5)).toEqual({ figures: 5, label: "5 standing", text: "" });
  expect(shown(12)).toEqual({ figures: 12, label: "12 standing", text: "" });
  expect(shown(13)).toEqual({ figures: 12, label: "13 standing", text: "and 1 more" });
  expect(shown(7, { most: 3, posture: "sitting" })).toEqual({ figures: 3, label: "7 sitting", text: "and 4 more" });
  // Whole people only.
  expect(shown(2.9)).toMatchObject({ figures: 2 });
});

test("nobody, and what is not known, is said", () => {
  expect(shown(0)).toEqual({ figures: 0, label: "0 standing", text: "nobody" });
  expect(shown(-3)).toMatchObject({ figures: 0, text: "nobody" });
  expect(shown(Number.NaN)).toMatchObject({ figures: 1, text: "–" });
});

test("each posture has a drawing of its own", () => {
  const drawings = FIGURE_POSTURES.map((posture) => {
    shown(1, { posture });
    return screen.getByRole("img").innerHTML;
  });
  expect(new Set(drawings).size).toBe(FIGURE_POSTURES.length);
});
