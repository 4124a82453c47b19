/** @jest-environment jsdom */
import "./setup.ts";
import { render } from "@testing-library/react";
import { StepChart } from "../src/charts/StepChart.tsx";

/** Corners of each line drawn, in pixels. */
function linesDrawn(): (readonly [number, number])[][] {
  return [...document.querySelectorAll("path.recharts-line-curve")].map((path) =>
    [...path.getAttribute("d")!.matchAll(/[ML]([\d.-]+),([\d.-]+)/g)].map(
      ([, x, y]) => [Number(x), Number(y)] as const,
    ),
  );
}
const chart = (times: number[], values: number[], since: number, until: number, now?: number) =>
  render(
    <StepChart
      series={[{ name: "Queue", times, values }]}
      since={since}
      until={until}
      now={now}
      wall={(t) => t}
      width={300}
      height={100}
    />,
  );

test("levels are drawn as steps: no line slants, and each value holds until the next", () => {
  chart([0, 20, 50, 80], [0, 3, 1, 2], 0, 100);
  const [line] = linesDrawn();
  expect(line.length).toBeGreaterThan(6);
  for (let i = 1; i < line.length; i++)
    expect([i, line[i][0] === line[i - 1][0] || line[i][1] === line[i - 1][1]]).toEqual([i, true]);
  const [left, right] = [line[0][0], line.at(-1)![0]];
  const xOf = (time: number) => left + (time / 100) * (right - left);
  for (const time of [20, 50, 80]) expect(line.some(([x]) => Math.abs(x - xOf(time)) < 0.5)).toBe(true);
});

test("a chart of the recent past begins with the value held then", () => {
  chart([0, 10, 95], [4, 7, 6], 40, 100);
  const [line] = linesDrawn();
  const heights = [...new Set(line.map(([, y]) => y))];
  // 7 from the left edge, then 6: the 4 of long ago is not there.
  expect(heights).toHaveLength(2);
  expect(line[0][1]).toBeLessThan(line.at(-1)![1]);
});

test("what has not come yet is not drawn, though the axis goes on", () => {
  chart([0, 10, 30], [1, 2, 4], 0, 100);
  const [whole] = linesDrawn();
  document.body.innerHTML = "";
  chart([0, 10, 30], [1, 2, 4], 0, 100, 50);
  const [line] = linesDrawn();
  const [left, right] = [whole[0][0], whole.at(-1)![0]];
  expect(line[0][0]).toBeCloseTo(left, 6);
  expect(line.at(-1)![0]).toBeCloseTo((left + right) / 2, 6);
});

test("where a value is not known the line breaks", () => {
  chart([0, 30, 60], [2, Number.NaN, 5], 0, 100);
  expect(document.querySelector("path.recharts-line-curve")!.getAttribute("d")!.match(/M/g)).toHaveLength(2);
});
