/** @jest-environment jsdom */
import "./setup.ts";
import { numberOf, TIME } from "@busy-harbor/core";
import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import PickDistribution from "../src/expressions/PickDistribution.tsx";

function open(text: string) {
  const written: string[] = [];
  render(
    <PickDistribution
      text={text}
      wanted={numberOf(TIME)}
      units={{ time: "min", length: "m" }}
      onWrite={(next) => written.push(next)}
    />,
  );
  return { user: userEvent.setup(), written };
}
const picked = () => screen.getByTestId("picked").textContent;
const figure = (name: string) =>
  screen.getAllByText(name).find((e) => e.tagName === "DT")!.nextElementSibling!.textContent;

test("it begins with what the expression says, shows what it comes to, and writes it", async () => {
  const { user, written } = open("lognormal(10 min, 5 min)");
  expect(screen.getByRole("combobox").textContent).toContain("with a long tail");
  expect(figure("Mean")).toBe("10 min");
  expect(figure("Standard deviation")).toBe("5 min");
  const mean = screen.getByLabelText("mean");
  await user.clear(mean);
  await user.type(mean, "0.5 h");
  expect(picked()).toBe("lognormal(0.5 h, 5 min)");
  expect(figure("Mean")).toBe("30 min");
  await user.click(screen.getByRole("button", { name: "Write it" }));
  expect(written).toEqual(["lognormal(0.5 h, 5 min)"]);
});

test("while what is asked is missing or wrong nothing can be written, and it says what is wanted", async () => {
  const { user, written } = open("");
  const mostly = screen.getByLabelText("mostly");
  await user.clear(mostly);
  expect(screen.getByRole("alert").textContent).toBe("Write what it is: mostly.");
  expect(mostly.getAttribute("aria-invalid")).toBe("true");
  await user.type(mostly, "9 min{Enter}");
  expect(screen.getByRole("alert").textContent).toMatch(/rising order/);
  expect((screen.getByRole("button", { name: "Write it" }) as HTMLButtonElement).disabled).toBe(true);
  expect(written).toEqual([]);
});

test("another way keeps what was typed for the same question", async () => {
  const { user } = open("exponential(7 min)");
  await user.click(screen.getByRole("combobox"));
  await user.click(within(screen.getByRole("listbox")).getByText("Its mean, and that it is done in so many steps"));
  expect((screen.getByLabelText("mean") as HTMLInputElement).value).toBe("7 min");
  expect(picked()).toBe("erlang(3, 7 min)");
  const before = screen.getByTestId("draws").textContent;
  await user.click(screen.getByRole("button", { name: "Ten other draws" }));
  expect(screen.getByTestId("draws").textContent).not.toBe(before);
});
