/** Colours of the floor's canvas; the same values as the style sheet's. */
export const COLOURS = {
  paper: "#FAF6EC",
  sheet: "#FFFEFA",
  water: "#E6F0F3",
  waterLine: "#C3D9E0",
  ink: "#17324D",
  soft: "#556A7D",
  hairline: "#CBD6DC",
  wall: "#7C8B97",
  action: "#0B6E8A",
  buoy: "#D9512C",
  busy: "#1F7A8C",
  blocked: "#7A5C9E",
} as const;

export const FONT = '"IBM Plex Sans Variable", system-ui, sans-serif';
