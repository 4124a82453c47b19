import { create } from "zustand";

interface Announcement {
  readonly text: string;
  readonly urgent: boolean;
  readonly action?: { readonly label: string; readonly run: () => void };
  readonly id: number;
}

export const useAnnouncement = create<{ current: Announcement | undefined; clear: () => void }>((set) => ({
  current: undefined,
  clear: () => set({ current: undefined }),
}));

let count = 0;

/** Says something to everyone: on screen for a while, and to assistive technology. */
export function announce(text: string, urgent = false, action?: Announcement["action"]): void {
  useAnnouncement.setState({ current: { text, urgent, action, id: ++count } });
}
