import { Toaster } from "sonner";
import { useTheme } from "./theme.ts";

/** Where messages of what just happened stand for a while, below the bridge bar. */
export function Announcer() {
  const theme = useTheme((s) => s.shown);
  return (
    <Toaster
      theme={theme === "night" ? "dark" : "light"}
      position="top-center"
      offset={{ top: 56 }}
      style={{ fontFamily: "var(--font-sans)" }}
      visibleToasts={2}
      containerAriaLabel="Messages"
      toastOptions={{
        unstyled: true,
        classNames: {
          toast:
            "float flex w-fit max-w-[min(640px,90vw)] mx-auto inset-x-0 items-center gap-3 rounded-lg bg-ink px-4 py-2 text-sm text-on-ink data-[type=error]:bg-buoy-deep",
          actionButton: "font-semibold underline underline-offset-2",
        },
      }}
    />
  );
}
