import { z } from "zod";
import { colour, expression, fileId, id, name, pictureFormat, streams } from "../settings/parts.ts";
import { settings, speed } from "../settings/setting.ts";

export const ENTITY_LOOKS = [
  "hull",
  "crate",
  "barrel",
  "drum",
  "pallet",
  "parcel",
  "sheet",
  "person",
  "cart",
  "forklift",
  "truck",
  "boat",
  "tug",
  "picture",
] as const;

/** Colours that entity types get in turn. */
export const ENTITY_COLOURS = ["#0B6E8A", "#D9512C", "#7A5C9E", "#B98A1F", "#4E7D3A", "#5A6F82"] as const;

export const attributeSchema = z.strictObject({
  name: z.string().regex(/^[\p{L}_][\p{L}\p{N}_]*$/u, "An attribute's name is one word of letters and digits."),
  value: expression.default("0").describe("Value at birth."),
});

/** Settings of an entity type that hold expressions, but for its attributes. */
export const TYPE_SETTINGS = settings({
  speed: speed("Speed", "Speed on walkways.", { initial: "1.3 m/s", entity: true, draws: 1 }),
});

export const entityTypeSchema = z.strictObject({
  id,
  name,
  speed: TYPE_SETTINGS.speed.schema.describe(TYPE_SETTINGS.speed.help),
  look: z.enum(ENTITY_LOOKS).default("hull"),
  colour: colour.default("#0B6E8A"),
  picture: z
    .strictObject({ file: fileId, format: pictureFormat })
    .optional()
    .describe("What an entity with the look of a picture looks like."),
  colouring: z
    .enum(["own", "state", "attribute"])
    .default("own")
    .describe("While watching: one colour, by what an entity is doing, or by an attribute."),
  colourAttribute: z.string().max(80).default("").describe("Name of the attribute that gives the colour."),
  bands: z
    .array(z.strictObject({ from: expression, colour }))
    .max(12)
    .default([])
    .describe(
      "Colours by that attribute, each from a value upwards, the values rising; below the first, the type's own.",
    ),
  attributes: z.array(attributeSchema).max(60).default([]),
  family: z
    .strictObject({
      table: z.string().max(200).describe("Id of the table of which each row is an entity type, called by its key."),
      look: z.string().max(60).default("").describe("Id of the column of looks; empty: that of this type."),
      colour: z.string().max(60).default("").describe("Id of the column of colours; empty: colours in turn."),
    })
    .optional()
    .describe("It stands for an entity type for each row of a table; attributes and speed may read the row."),
  streams,
});

export type EntityType = z.infer<typeof entityTypeSchema>;
