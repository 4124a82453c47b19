import createDOMPurify from "dompurify";
import { imageSize } from "./imageSize.ts";
import { DrawingProblem, refuse } from "./problem.ts";
import { unfold } from "./unfold.ts";

/** Longest SVG text that is taken, in characters. */
const MOST_LETTERS = 12 * 2 ** 20;
const MOST_NODES = 200_000;
/** Levels of elements inside one another. */
const MOST_LEVELS = 500;
/**
 * Most parts that a drawing may unfold to, and groups that need a picture of their own, in all and inside one
 * another.
 */
const MOST_PARTS = 200_000;
const MOST_LAYERS = 60;
const MOST_LAYERS_DEEP = 6;
/** Above so many of them the drawing is painted smaller. */
const FEW_LAYERS = 12;
/** Most pixels of all pictures inside a drawing. */
const MOST_INNER_PIXELS = 24e6;
/** Longer edge of the picture an SVG is drawn as, in pixels. */
const SVG_PIXELS = 5000;
const SVG_PIXELS_LAYERED = 2000;
/** Longest time that drawing may take, in ms. */
const MOST_TIME = 10_000;

export interface CleanSvg {
  readonly text: string;
  readonly width: number;
  readonly height: number;
  /** Longer edge of the picture it is drawn as, in pixels. */
  readonly pixels: number;
}

/**
 * An SVG without anything that acts, loads or links: shapes, words and colours only. Filters, such as blurs, are left
 * out: they cost as much as their maker likes, and no plan needs them. Throws a `DrawingProblem` for what declares
 * entities or names parts of itself over and over (which may unfold without end), is broken, or has no size.
 */
export function cleanSvg(text: string): CleanSvg {
  if (text.length > MOST_LETTERS)
    return refuse(
      `The drawing has ${Math.ceil(text.length / 2 ** 20)} MB; an SVG may have ${MOST_LETTERS / 2 ** 20}.`,
      "Simplify it, or save it as DXF or PNG.",
    );
  if (/<!ENTITY/i.test(text))
    return refuse(
      "The drawing declares entities, which may unfold without end.",
      "Save it as plain SVG with the program that made it.",
    );
  const parsed = new DOMParser().parseFromString(text.replace(/<!DOCTYPE[^>[]*>/i, ""), "image/svg+xml");
  const root = parsed.documentElement;
  if (parsed.querySelector("parsererror") || root.localName !== "svg")
    return refuse(
      "The drawing is broken or cut off: it is not well-formed.",
      "Save it again with the program that made it.",
    );
  if (isTooDeep(root))
    return refuse(
      `The drawing has parts inside one another to more than ${MOST_LEVELS} levels.`,
      "Simplify it, or save it as DXF or PNG.",
    );
  if (parsed.getElementsByTagName("*").length > MOST_NODES)
    return refuse(`The drawing has more than ${MOST_NODES} parts.`, "Simplify it, or save it as DXF or PNG.");
  const purify = createDOMPurify(window);
  let innerPixels = 0;
  const forbid = (node: globalThis.Element) => {
    for (const { name, value } of [...node.attributes]) {
      // Only places within the drawing may be named; anything else would be fetched.
      if (/href$/i.test(name) && !/^(#|data:image\/(png|jpeg);)/i.test(value.trim())) node.removeAttribute(name);
      else if (/url\(\s*(?!['"]?#)/i.test(value) || /@import/i.test(value)) node.removeAttribute(name);
      else if (/^(filter|backdrop-filter)$/i.test(name) || (name === "style" && /filter/i.test(value)))
        node.removeAttribute(name);
      else if (
        /href$/i.test(name) &&
        !value.trim().startsWith("#") &&
        (innerPixels += pixelsOf(value)) > MOST_INNER_PIXELS
      )
        node.removeAttribute(name);
    }
  };
  purify.addHook("afterSanitizeAttributes", forbid);
  purify.addHook("uponSanitizeElement", (node) => {
    if (node.nodeName.toLowerCase() === "style" && /url\(|@import|<|&|filter/i.test(node.textContent ?? ""))
      node.parentNode?.removeChild(node);
  });
  const clean = purify.sanitize(new XMLSerializer().serializeToString(root), {
    USE_PROFILES: { svg: true },
    FORBID_TAGS: ["filter", "script", "foreignObject", "a", "animate", "set", "animateTransform", "animateMotion"],
    ADD_TAGS: ["use"],
    RETURN_DOM_FRAGMENT: true,
  });
  const again = clean.firstElementChild;
  if (again?.localName !== "svg")
    return refuse("Nothing that can be drawn is left of the drawing once scripts and links are taken out.");
  const size = sizeOf(again);
  if (!size)
    return refuse(
      "The drawing does not say how large it is.",
      "Give it a width and height, or a view box, and save it again.",
    );
  if (!again.hasAttribute("viewBox")) again.setAttribute("viewBox", `0 0 ${size.width} ${size.height}`);
  const { parts, layers, depth } = unfold(again);
  if (parts > MOST_PARTS || layers > MOST_LAYERS || depth > MOST_LAYERS_DEEP) {
    return refuse(
      "The drawing unfolds to more than can be shown: parts of it are painted over and over, or through one another.",
      "Save it with its copies resolved and its transparent groups made plain, or as DXF or PNG.",
    );
  }
  return {
    text: new XMLSerializer().serializeToString(again),
    ...size,
    pixels: layers > FEW_LAYERS ? SVG_PIXELS_LAYERED : SVG_PIXELS,
  };
}

function isTooDeep(root: globalThis.Element): boolean {
  let level: readonly globalThis.Element[] = [root];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > MOST_LEVELS) return true;
    level = level.flatMap((element) => [...element.children]);
  }
  return false;
}

/** Pixels of a picture that is written out inside a drawing; Infinity for one that cannot be read. */
function pixelsOf(address: string): number {
  const found = /^data:image\/(png|jpeg);base64,(.*)$/is.exec(address.trim());
  if (!found) return Infinity;
  try {
    // The size stands near the beginning; a multiple of four letters is whole bytes.
    const head = found[2].replace(/\s/g, "").slice(0, 400_000);
    const { width, height } = imageSize(
      Uint8Array.from(atob(head), (c) => c.charCodeAt(0)),
      found[1].toLowerCase() as "png" | "jpeg",
    );
    return width * height;
  } catch {
    return Infinity;
  }
}

/** Width and height in the drawing's own unit. */
function sizeOf(root: globalThis.Element): { width: number; height: number } | undefined {
  const box = (root.getAttribute("viewBox") ?? "")
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const [width, height] =
    box.length === 4 && box.every(Number.isFinite)
      ? box.slice(2)
      : ["width", "height"].map((name) => Number.parseFloat(root.getAttribute(name) ?? ""));
  return width > 0 && height > 0 && width < 1e7 && height < 1e7 ? { width, height } : undefined;
}

/** Draws a clean SVG as a picture. An image element runs no scripts and fetches nothing, whatever slipped through. */
export async function drawSvg({ text, width, height, pixels }: CleanSvg): Promise<ImageBitmap> {
  const scale = pixels / Math.max(width, height);
  const [w, h] = [Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale))];
  const sized = new DOMParser().parseFromString(text, "image/svg+xml");
  sized.documentElement.setAttribute("width", String(w));
  sized.documentElement.setAttribute("height", String(h));
  let timer: ReturnType<typeof setTimeout> | undefined;
  const url = URL.createObjectURL(new Blob([new XMLSerializer().serializeToString(sized)], { type: "image/svg+xml" }));
  try {
    const image = new Image();
    image.src = url;
    const late = new Promise<never>((_, reject) => {
      timer = setTimeout(
        () => reject(new DrawingProblem("Drawing it takes too long.", "Simplify it, or save it as DXF or PNG.")),
        MOST_TIME,
      );
    });
    const drawn = image.decode().then(
      () => createImageBitmap(image, { resizeWidth: w, resizeHeight: h }),
      () => refuse("The drawing cannot be shown.", "Save it as DXF or PNG."),
    );
    return await Promise.race([drawn, late]);
  } finally {
    clearTimeout(timer);
    URL.revokeObjectURL(url);
  }
}
