// @vitest-environment jsdom
/** Where the focus goes when what had it is taken away; and that a second key is not one for what came there. */
import { act, cleanup, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { keepFocus } from "../../web/src/shell/focus";

const done: string[] = [];
let stop: () => void;

/** A list of what is due: each with a link and a button that takes it off. */
function List({ names }: { names: string[] }) {
  const [left, setLeft] = useState(names);
  const take = (name: string) => {
    done.push(name);
    setLeft((all) => all.filter((n) => n !== name));
  };
  return (
    <main tabIndex={-1} data-testid="sheet">
      <ul>
        {left.map((name) => (
          <li key={name}>
            <a href={`#${name}`}>{name}</a>
            <button type="button" onClick={() => take(name)}>{`Done with ${name}`}</button>
          </li>
        ))}
      </ul>
    </main>
  );
}
/** Two frames and whatever they bring, however slow the machine is. */
const settle = () =>
  act(() => vi.waitFor(() => expect(document.activeElement).not.toBe(document.body), { timeout: 3_000, interval: 5 }));
const button = (name: string) => screen.getByRole("button", { name: `Done with ${name}` });
/** As a browser does: unless it is prevented, the key presses what has the focus. */
const enter = (repeat = false) =>
  act(() => {
    const at = document.activeElement as HTMLElement;
    const event = new KeyboardEvent("keydown", { key: "Enter", bubbles: true, cancelable: true, repeat });
    if (at.dispatchEvent(event) && at.tagName === "BUTTON") at.click();
  });

beforeEach(async () => {
  done.length = 0;
  await import("../../web/src/ui/guard");
  stop = keepFocus();
});
afterEach(() => {
  stop();
  cleanup();
  vi.useRealTimers();
});

test("it goes to the same thing in the next row, and from the last one to the row before", async () => {
  render(<List names={["Ann", "Bo", "Cy"]} />);
  button("Bo").focus();
  enter();
  await settle();
  expect(document.activeElement).toBe(button("Cy"));
  await act(() => new Promise<void>((on) => setTimeout(on, 600)));
  enter();
  await settle();
  expect([done, document.activeElement]).toEqual([["Bo", "Cy"], button("Ann")]);
});

test("a second Enter straight after it does nothing to the next row", async () => {
  render(<List names={["Ann", "Bo"]} />);
  button("Ann").focus();
  enter();
  await settle();
  expect(document.activeElement).toBe(button("Bo"));
  enter();
  expect(done).toEqual(["Ann"]);
});

test("to the sheet, where no row is left or a finger took it away", async () => {
  render(<List names={["Ann"]} />);
  button("Ann").focus();
  enter();
  await settle();
  expect(document.activeElement).toBe(screen.getByTestId("sheet"));
  cleanup();
  render(<List names={["Bo", "Cy"]} />);
  button("Bo").focus();
  act(() => {
    window.dispatchEvent(new Event("pointerdown"));
    window.dispatchEvent(new Event("pointerup"));
    button("Bo").click();
  });
  await settle();
  expect(document.activeElement).toBe(screen.getByTestId("sheet"));
});
