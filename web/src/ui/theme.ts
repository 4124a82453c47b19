import { create } from "zustand";
import { setFloorColours } from "../floor/colours.ts";

/** Light chart, dark night watch, or whichever the system asks for. */
export const THEMES = ["system", "chart", "night"] as const;
export type Theme = (typeof THEMES)[number];

export const THEME_LABELS: Readonly<Record<Theme, string>> = {
  system: "As the system",
  chart: "Chart",
  night: "Night watch",
};

const KEY = "busy-harbor-theme";
const dark = window.matchMedia("(prefers-color-scheme: dark)");

const kept = (): Theme => THEMES.find((t) => t === localStorage.getItem(KEY)) ?? "system";

/** What is chosen, and which of the two is shown. */
export const useTheme = create<{ theme: Theme; shown: "chart" | "night"; choose(theme: Theme): void }>((set) => ({
  theme: kept(),
  shown: "chart",
  choose(theme) {
    localStorage.setItem(KEY, theme);
    set({ theme });
    applyTheme();
  },
}));

/** Puts the chosen theme on the page and the floor. */
export function applyTheme(): void {
  const { theme } = useTheme.getState();
  const shown = theme === "system" ? (dark.matches ? "night" : "chart") : theme;
  document.documentElement.dataset.theme = shown;
  setFloorColours(shown);
  useTheme.setState({ shown });
}

dark.addEventListener("change", applyTheme);
