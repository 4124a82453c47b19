/** @jest-environment jsdom */
import { act, render } from "@testing-library/react";
import { Announcer } from "../src/ui/Announcer.tsx";
import { announce } from "../src/ui/announce.ts";

/** Milliseconds for which a message without an action is shown. */
const SHOWN_FOR = 5000;

/** Lets time pass in steps, after each of which the page has been drawn. */
async function pass(milliseconds: number): Promise<void> {
  for (let left = milliseconds; left > 0; left -= 50) await act(() => jest.advanceTimersByTimeAsync(50));
}
const messages = () => [...document.querySelectorAll("[data-sonner-toast] [data-title]")].map((e) => e.textContent);

beforeEach(() => {
  jest.useFakeTimers();
  render(<Announcer />);
});
afterEach(() => jest.useRealTimers());

test("a message takes the place of the one before, even of one that is just going", async () => {
  announce("Saved.");
  await pass(100);
  expect(messages()).toEqual(["Saved."]);
  announce("Exported.");
  await pass(500);
  expect(messages()).toEqual(["Exported."]);

  // The one before goes by itself, and while it goes another comes.
  await pass(SHOWN_FOR - 450);
  announce("Desk deleted.", false, { label: "Undo", run: () => undefined });
  await pass(1000);
  expect(messages()).toEqual(["Desk deleted."]);
  await pass(SHOWN_FOR);
  expect(messages()).toEqual(["Desk deleted."]);
  await pass(2 * SHOWN_FOR);
  expect(messages()).toEqual([]);
});

test("what taking something back says in its turn is read", async () => {
  announce("Desk deleted.", false, { label: "Undo", run: () => announce("Desk is back.") });
  await pass(100);
  await act(async () => document.querySelector<HTMLButtonElement>("[data-button]")!.click());
  await pass(1000);
  expect(messages()).toEqual(["Desk is back."]);
});
