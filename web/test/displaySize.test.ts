import { displaySchema } from "@busy-harbor/core";
import { PICTURE_FACE, sizeOf, turnAndResize } from "../src/displays/size.ts";

const gauge = displaySchema.parse({ kind: "gauge", id: "g", at: [1, 2] });
const picture = displaySchema.parse({
  kind: "picture",
  id: "p",
  at: [0, 0],
  file: "a".repeat(64),
  format: "png",
  width: 5,
});

test("a picture is as wide as its metres, whatever else is as large as its letters", () => {
  expect(sizeOf(picture, 20) * PICTURE_FACE).toBe(100);
  expect(sizeOf(gauge, 20)).toBe(1);
});

test("turning alone leaves the size as it is, and resizing the angle", () => {
  expect(turnAndResize(gauge, 1, 44.96, [0.5, 0])).toMatchObject({ size: 1, rotation: 45, at: [1.5, 2] });
  expect(turnAndResize(picture, 2, 0, [0, 0])).toMatchObject({ width: 10, rotation: 0 });
  expect(turnAndResize(gauge, 1.5, 0, [0, 0])).toMatchObject({ size: 1.5 });
});

test("what would be too large or too small is left as it is", () => {
  expect(turnAndResize(gauge, 9, 0, [0, 0])).toBeUndefined();
  expect(turnAndResize(gauge, 0.1, 0, [0, 0])).toBeUndefined();
});
