import { z } from "zod";
import { expression, fileId, id, pictureFormat, point } from "../settings/parts.ts";

const display = {
  id,
  at: point.describe("Upper left corner, [x, y] in metres."),
  title: z.string().max(120).default(""),
  rotation: z.number().min(-360).max(360).default(0).describe("Degrees, clockwise about the upper left corner."),
};
const size = {
  size: z.number().min(0.25).max(8).default(1).describe("How large it is drawn; 1 is the size of the card's letters."),
};
const shown = expression.describe("What is shown; it may read elements and the clock, and draws nothing.");
const scale = {
  least: z.number().default(0).describe("Where the scale begins, in the unit shown."),
  most: z.number().default(10).describe("Where the scale ends, in the unit shown."),
};
const rows = z
  .array(z.strictObject({ label: z.string().max(80).default(""), value: shown.default("") }))
  .min(1)
  .max(12);

/** How people are drawn in displays, from the side. */
export const FIGURE_POSTURES = ["standing", "sitting", "lying", "typing", "walking", "pushing", "carrying"] as const;
export type FigurePosture = (typeof FIGURE_POSTURES)[number];

/** What stands on the floor to be read while a design is watched. It changes nothing of a run. */
export const displaySchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("clock"), ...display, ...size }),
  z.strictObject({ kind: z.literal("text"), ...display, ...size, text: z.string().max(2000).default("Text") }),
  z.strictObject({ kind: z.literal("number"), ...display, ...size, value: shown.default("") }),
  z.strictObject({ kind: z.literal("gauge"), ...display, ...size, value: shown.default(""), ...scale }),
  z.strictObject({ kind: z.literal("bar"), ...display, ...size, value: shown.default(""), ...scale }),
  z.strictObject({
    kind: z.literal("people"),
    ...display,
    ...size,
    value: shown.default(""),
    posture: z.enum(FIGURE_POSTURES).default("standing").describe("How they are drawn, from the side."),
    most: z.int().min(1).max(60).default(12).describe("The most that are drawn; of more the number is told."),
  }),
  z.strictObject({ kind: z.literal("table"), ...display, ...size, rows }),
  z.strictObject({
    kind: z.literal("chart"),
    ...display,
    ...size,
    rows,
    span: expression.default("1 h").describe("How much of the past is shown."),
  }),
  z.strictObject({
    kind: z.literal("picture"),
    ...display,
    file: fileId,
    format: pictureFormat,
    width: z.number().gt(0).max(1e5).default(5).describe("Metres on the floor."),
  }),
]);

export type Display = z.infer<typeof displaySchema>;
