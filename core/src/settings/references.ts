import { occurrencesOf } from "./settingsOf.ts";
import type { SettingsSpec, Target } from "./setting.ts";

/** An id that a thing names. */
export interface Mention {
  readonly key: string;
  readonly to: Target | "resource";
  readonly id: string;
  readonly used: boolean;
}

/** What a thing names by id: entity types, elements, calendars and resources. What is empty names nothing. */
export const mentionsOf = (thing: object, spec: SettingsSpec): Mention[] =>
  occurrencesOf(thing, spec).flatMap(({ key, setting, value, used }): Mention[] => {
    if (setting.form === "reference")
      return value === "" || value === undefined ? [] : [{ key, to: setting.to, id: String(value), used }];
    if (setting.form === "resources") return (value as string[]).map((id) => ({ key, to: "resource", id, used }));
    return [];
  });

/** Puts other ids in place of those that a thing in a draft names. */
export function mapMentions(
  thing: object,
  spec: SettingsSpec,
  map: (to: Target | "resource", id: string) => string,
): void {
  for (const { setting, value, holder } of occurrencesOf(thing, spec)) {
    if (setting.form === "reference" && value) holder[setting.name] = map(setting.to, String(value));
    else if (setting.form === "resources") holder[setting.name] = (value as string[]).map((id) => map("resource", id));
  }
}

/** Ids of the resources that a thing may claim. */
export const resourcesOf = (thing: object, spec: SettingsSpec): string[] =>
  mentionsOf(thing, spec).flatMap(({ to, id }) => (to === "resource" ? [id] : []));
