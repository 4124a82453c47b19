/** What nodes on the floor stand for, as their names. */
export const ELEMENT = "element";
export const LINK = "link";
export const ROAD = "road";
export const HANDLE = "handle";
export const DISPLAY = "display";

/** What a handle moves or begins: the attribute `of` of its node. */
export type HandleOf =
  | { readonly kind: "way out" | "drawing"; readonly id: string }
  | { readonly kind: "bend" | "line bend" | "road point"; readonly id: string; readonly index: number };
