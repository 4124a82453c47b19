import { toast } from "sonner";

const SHOWN_FOR = 5000;
const SHOWN_WITH_ACTION = 12_000;

/**
 * The message that stands there now. The next is a new one that takes its place, and not the same with other words: it
 * would go with the old one where that is just about to.
 */
let said: string | number | undefined;

/**
 * Says something to everyone: on screen for a while, with a way to take it back where there is one, and to assistive
 * technology.
 */
export function announce(
  text: string,
  urgent = false,
  action?: { readonly label: string; readonly run: () => void },
): void {
  if (said !== undefined) toast.dismiss(said);
  said = (urgent ? toast.error : toast)(text, {
    duration: action ? SHOWN_WITH_ACTION : SHOWN_FOR,
    action: action && { label: action.label, onClick: () => action.run() },
    icon: null,
  });
}
