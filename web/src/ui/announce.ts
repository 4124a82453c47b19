import { toast } from "sonner";

const SHOWN_FOR = 5000;
const SHOWN_WITH_ACTION = 12_000;

/** Messages take one another's place: the latest is what just happened. */
const ID = "said";

/**
 * Says something to everyone: on screen for a while, with a way to take it back where there is one, and to assistive
 * technology.
 */
export function announce(
  text: string,
  urgent = false,
  action?: { readonly label: string; readonly run: () => void },
): void {
  (urgent ? toast.error : toast)(text, {
    id: ID,
    duration: action ? SHOWN_WITH_ACTION : SHOWN_FOR,
    action: action && { label: action.label, onClick: () => action.run() },
    icon: null,
  });
}
