import createDOMPurify from "dompurify";
import { refuse } from "./problem.ts";

/** Longest SVG text that is taken, in characters. */
const MOST_LETTERS = 12 * 2 ** 20;
const MOST_NODES = 200_000;
/** Longer edge of the picture an SVG is drawn as, in pixels. */
export const SVG_PIXELS = 5000;

export interface CleanSvg {
  readonly text: string;
  readonly width: number;
  readonly height: number;
}

/**
 * An SVG without anything that acts, loads or links: shapes, words and colours only. Throws a
 * `DrawingProblem` for what declares entities (which may unfold without end), is broken, or has no size.
 */
export function cleanSvg(text: string): CleanSvg {
  if (text.length > MOST_LETTERS) return refuse(`The drawing has ${Math.ceil(text.length / 2 ** 20)} MB; an SVG may have ${MOST_LETTERS / 2 ** 20}.`, "Simplify it, or save it as DXF or PNG.");
  if (/<!ENTITY/i.test(text)) return refuse("The drawing declares entities, which may unfold without end.", "Save it as plain SVG with the program that made it.");
  const parsed = new DOMParser().parseFromString(text.replace(/<!DOCTYPE[^>[]*>/i, ""), "image/svg+xml");
  const root = parsed.documentElement;
  if (parsed.querySelector("parsererror") || root.localName !== "svg") return refuse("The drawing is broken or cut off: it is not well-formed.", "Save it again with the program that made it.");
  if (parsed.getElementsByTagName("*").length > MOST_NODES) return refuse(`The drawing has more than ${MOST_NODES} parts.`, "Simplify it, or save it as DXF or PNG.");
  const purify = createDOMPurify(window);
  const forbid = (node: globalThis.Element) => {
    for (const { name, value } of [...node.attributes]) {
      // Only places within the drawing may be named; anything else would be fetched.
      if (/href$/i.test(name) && !/^(#|data:image\/(png|jpeg);)/i.test(value.trim())) node.removeAttribute(name);
      else if (/url\(\s*(?!['"]?#)/i.test(value) || /@import/i.test(value)) node.removeAttribute(name);
    }
  };
  purify.addHook("afterSanitizeAttributes", forbid);
  purify.addHook("uponSanitizeElement", (node) => {
    if (node.nodeName.toLowerCase() === "style" && /url\(|@import|<|&/i.test(node.textContent ?? "")) node.parentNode?.removeChild(node);
  });
  const clean = purify.sanitize(new XMLSerializer().serializeToString(root), { USE_PROFILES: { svg: true, svgFilters: true }, FORBID_TAGS: ["script", "foreignObject", "a", "animate", "set", "animateTransform", "animateMotion"], ADD_TAGS: ["use"], RETURN_DOM_FRAGMENT: true });
  const again = clean.firstElementChild;
  if (again?.localName !== "svg") return refuse("Nothing that can be drawn is left of the drawing once scripts and links are taken out.");
  const size = sizeOf(again);
  if (!size) return refuse("The drawing does not say how large it is.", "Give it a width and height, or a view box, and save it again.");
  if (!again.hasAttribute("viewBox")) again.setAttribute("viewBox", `0 0 ${size.width} ${size.height}`);
  return { text: new XMLSerializer().serializeToString(again), ...size };
}

/** Width and height in the drawing's own unit. */
function sizeOf(root: globalThis.Element): { width: number; height: number } | undefined {
  const box = (root.getAttribute("viewBox") ?? "").trim().split(/[\s,]+/).map(Number);
  const [width, height] = box.length === 4 && box.every(Number.isFinite) ? box.slice(2) : ["width", "height"].map((name) => Number.parseFloat(root.getAttribute(name) ?? ""));
  return width > 0 && height > 0 && width < 1e7 && height < 1e7 ? { width, height } : undefined;
}

/** Draws a clean SVG as a picture. An image element runs no scripts and fetches nothing, whatever slipped through. */
export async function drawSvg({ text, width, height }: CleanSvg): Promise<ImageBitmap> {
  const scale = SVG_PIXELS / Math.max(width, height);
  const [w, h] = [Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale))];
  const sized = new DOMParser().parseFromString(text, "image/svg+xml");
  sized.documentElement.setAttribute("width", String(w));
  sized.documentElement.setAttribute("height", String(h));
  const url = URL.createObjectURL(new Blob([new XMLSerializer().serializeToString(sized)], { type: "image/svg+xml" }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode().catch(() => refuse("The drawing cannot be shown.", "Save it as DXF or PNG."));
    return await createImageBitmap(image, { resizeWidth: w, resizeHeight: h });
  } finally {
    URL.revokeObjectURL(url);
  }
}
