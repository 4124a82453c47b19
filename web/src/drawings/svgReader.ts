/** What reads SVG: a package of its own weight, and many plans have none, so it comes when the first is read. */
export const svgReader = () => import("./svg.ts");
