import { z } from "zod";
import { point } from "../settings/parts.ts";

const planStyle = { label: z.string().max(120).default("") };
export const planShapeSchema = z.discriminatedUnion("shape", [
  z.strictObject({ shape: z.literal("wall"), points: z.array(point).min(2).max(2000), ...planStyle }),
  z.strictObject({ shape: z.literal("water"), points: z.array(point).min(3).max(2000), ...planStyle }),
  z.strictObject({ shape: z.literal("door"), points: z.array(point).length(2), ...planStyle }),
  z.strictObject({ shape: z.literal("vessel"), points: z.array(point).min(3).max(2000), ...planStyle }),
  z.strictObject({
    shape: z.literal("place name"),
    at: point,
    text: z.string().max(120),
    size: z.number().min(0.1).max(1000).default(1),
  }),
]);

export type PlanShape = z.infer<typeof planShapeSchema>;
