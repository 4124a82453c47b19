import { useEffect } from "react";
import { useAnnouncement } from "./announce.ts";

const SHOWN_FOR = 5000;
const SHOWN_WITH_ACTION = 12_000;

/** The line below the bridge bar that tells what just happened, with a way to take it back where there is one. */
export function Announcer() {
  const { current, clear } = useAnnouncement();
  useEffect(() => {
    if (!current) return;
    const timer = setTimeout(clear, current.action ? SHOWN_WITH_ACTION : SHOWN_FOR);
    return () => clearTimeout(timer);
  }, [current, clear]);
  return (
    <div
      role="status"
      aria-live={current?.urgent ? "assertive" : "polite"}
      className="pointer-events-none fixed inset-x-0 top-14 z-50 flex justify-center"
    >
      {current && (
        <div
          className={`float pointer-events-auto flex items-center gap-3 rounded-lg px-4 py-2 text-sm text-on-ink ${current.urgent ? "bg-buoy-deep" : "bg-ink"}`}
        >
          {current.text}
          {current.action && (
            <button
              className="font-semibold underline underline-offset-2"
              onClick={() => {
                current.action?.run();
                clear();
              }}
            >
              {current.action.label}
            </button>
          )}
        </div>
      )}
    </div>
  );
}
