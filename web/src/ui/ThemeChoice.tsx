import { Choice } from "./Choice.tsx";
import { THEME_LABELS, THEMES, useTheme } from "./theme.ts";

const OPTIONS = THEMES.map((value) => ({ value, label: THEME_LABELS[value] }));

/** How the application is coloured. */
export function ThemeChoice() {
  const { theme, choose } = useTheme();
  return (
    <div className="flex items-center gap-2">
      <span className="text-soft">Theme</span>
      <Choice label="Theme" className="w-40!" value={theme} options={OPTIONS} onChange={choose} />
    </div>
  );
}
