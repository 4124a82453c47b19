import { saveBlob, saveFile } from "./saveFile.ts";

/** What of an element's style a drawing keeps when it stands alone. */
const KEPT = [
  ...["fill", "fill-opacity", "stroke", "stroke-opacity", "stroke-width", "stroke-dasharray", "stroke-linecap"],
  ...["font-family", "font-size", "font-weight", "text-anchor", "opacity", "visibility"],
];
/** Dots of a picture for one of the drawing. */
const SHARPNESS = 2;

/** A drawing of the page as a text of its own: colours and letters as they are seen, on the page's ground. */
export function svgText(svg: SVGSVGElement): string {
  const { width, height } = svg.getBoundingClientRect();
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const copies = copy.querySelectorAll<SVGElement>("*");
  svg.querySelectorAll("*").forEach((element, i) => {
    const style = getComputedStyle(element);
    for (const name of KEPT) copies[i].style.setProperty(name, style.getPropertyValue(name));
    copies[i].removeAttribute("class");
  });
  copy.removeAttribute("class");
  copy.removeAttribute("style");
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", String(width));
  copy.setAttribute("height", String(height));
  const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  ground.setAttribute("width", "100%");
  ground.setAttribute("height", "100%");
  ground.setAttribute("fill", getComputedStyle(document.body).backgroundColor);
  copy.prepend(ground);
  return new XMLSerializer().serializeToString(copy);
}

export const saveSvg = (name: string, svg: SVGSVGElement): void =>
  saveFile(`${name}.svg`, svgText(svg), "image/svg+xml");

/** Saves a drawing as a picture, twice as fine as it is seen. */
export async function savePng(name: string, svg: SVGSVGElement): Promise<void> {
  const { width, height } = svg.getBoundingClientRect();
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svgText(svg))}`;
  await image.decode();
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(width * SHARPNESS);
  canvas.height = Math.round(height * SHARPNESS);
  canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
  if (!blob) throw new Error("The browser made no picture of the drawing.");
  saveBlob(`${name}.png`, blob);
}
