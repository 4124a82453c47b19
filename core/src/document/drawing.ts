import { z } from "zod";
import { colour, DRAWING_FORMATS, fileId, id, name, point } from "../settings/parts.ts";

export const drawingLayerSchema = z.strictObject({
  visible: z.boolean().optional().describe("Missing: as the file says."),
  colour: colour.optional().describe("Missing: as the file says."),
  opacity: z.number().min(0).max(1).optional().describe("Missing: that of the drawing."),
});

export const drawingSchema = z.strictObject({
  id,
  name,
  file: fileId,
  format: z.enum(DRAWING_FORMATS),
  at: point.describe("Where the middle of the drawing lies, [x, y] in metres."),
  rotation: z.number().min(-360).max(360).default(0).describe("Degrees, clockwise, about the middle."),
  metresPerUnit: z
    .number()
    .gt(0)
    .max(1e6)
    .describe("Metres that one unit of the drawing stands for; the unit of a picture is its pixel."),
  opacity: z.number().min(0).max(1).default(0.6),
  visible: z.boolean().default(true),
  locked: z.boolean().default(false),
  layers: z
    .record(z.string().max(400), drawingLayerSchema)
    .default({})
    .describe("What differs from the file, by layer."),
});

export type Drawing = z.infer<typeof drawingSchema>;
