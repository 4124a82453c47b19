import { useView } from "./viewStore.ts";

/** Colours of the floor's canvas; the same values as the style sheet's. */
const CHART = {
  paper: "#FAF6EC",
  sheet: "#FFFEFA",
  water: "#E6F0F3",
  waterLine: "#C3D9E0",
  ink: "#17324D",
  soft: "#556A7D",
  hairline: "#CBD6DC",
  grid: "#DDD7C8",
  walkway: "#FBF9F2",
  wall: "#7C8B97",
  action: "#0B6E8A",
  chosen: "rgb(11 110 138 / 0.08)",
  buoy: "#D9512C",
  amber: "#C8871A",
  busy: "#1F7A8C",
  blocked: "#7A5C9E",
  blockedPale: "#E4DCEC",
  setting: "#4F8FB4",
  settingPale: "#D6E6F0",
  needing: "#A87A14",
  needingPale: "#F8EBCB",
  down: "#BF3B2B",
  downPale: "#F6DCD8",
  off: "#7F8D97",
  offPale: "#E6EAED",
};

type Colours = Readonly<Record<keyof typeof CHART, string>>;

const NIGHT: Colours = {
  paper: "#12202B",
  sheet: "#182A37",
  water: "#0D1821",
  waterLine: "#1D3342",
  ink: "#DCE7EC",
  soft: "#93A7B5",
  hairline: "#2B4152",
  grid: "#253A49",
  walkway: "#172733",
  wall: "#6B8091",
  action: "#4FB3CC",
  chosen: "rgb(79 179 204 / 0.14)",
  buoy: "#F08560",
  amber: "#E0A63C",
  busy: "#3A97AB",
  blocked: "#AC8FD0",
  blockedPale: "#33284A",
  setting: "#6FA8C7",
  settingPale: "#1C3A4C",
  needing: "#E0B04C",
  needingPale: "#463A1C",
  down: "#E0705F",
  downPale: "#4A211B",
  off: "#9AA7B0",
  offPale: "#2A3842",
};

/** Colours of the theme in use: read at every drawing. */
export const COLOURS: Colours = { ...CHART };

/** Gives the floor the colours of a theme, and has it drawn again. */
export function setFloorColours(theme: "chart" | "night"): void {
  Object.assign(COLOURS, theme === "night" ? NIGHT : CHART);
  useView.setState(({ view }) => ({ view: { ...view } }));
}

export const FONT = '"IBM Plex Sans Variable", system-ui, sans-serif';
