import { THEME_LABELS, THEMES, type Theme, useTheme } from "./theme.ts";

/** Light, dark, or as the system has it. */
export function ThemeChoice() {
  const { theme, choose } = useTheme();
  return (
    <select
      aria-label="Colours"
      className="field w-auto!"
      value={theme}
      onChange={(event) => choose(event.target.value as Theme)}
    >
      {THEMES.map((t) => (
        <option key={t} value={t}>
          {THEME_LABELS[t]}
        </option>
      ))}
    </select>
  );
}
