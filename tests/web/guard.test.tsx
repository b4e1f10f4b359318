// @vitest-environment jsdom
/** What acts, and when it can be meant; dialogs and the focus. A made-up clock and a made-up sight. */
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Button } from "../../web/src/ui/Button";
import { Dialog } from "../../web/src/ui/Dialog";
import { canBeMeant } from "../../web/src/ui/guard";

/** Elements that are looked at, and who wants to know; everything is out of sight until it is shown. */
const looked = new Map<Element, (all: object[]) => void>();
class Sight {
  told: (all: object[]) => void;
  constructor(told: (all: object[]) => void) {
    this.told = told;
  }
  observe(element: Element): void {
    looked.set(element, this.told);
  }
  disconnect(): void {}
}
const inSight = (element: Element, share = 1) =>
  act(() =>
    looked.get(element)?.([
      {
        isIntersecting: share > 0,
        intersectionRatio: share,
        intersectionRect: { height: 44 * share },
        rootBounds: { height: 800 },
      },
    ]),
  );
const later = (ms: number) => act(() => vi.advanceTimersByTime(ms));

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("IntersectionObserver", Sight);
});
afterEach(() => {
  cleanup();
  looked.clear();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test.each([
  ["harmless", null, true],
  ["weighty", null, false],
  ["weighty", 399, false],
  ["weighty", 400, true],
  ["seen", 999, false],
  ["seen", 1000, true],
] as const)("%s, in sight for %s ms: %s", (weight, ms, can) => {
  expect(canBeMeant(weight, ms === null ? null : 5000 - ms, 5000)).toBe(can);
});

test("what must be seen is pressed by nothing in its first second in sight", () => {
  const done = vi.fn();
  render(
    <Button weight="seen" onClick={done}>
      Settle
    </Button>,
  );
  const button = screen.getByRole("button");
  later(5000); // below the fold
  fireEvent.click(button);
  expect(done).not.toHaveBeenCalled();
  expect(button.getAttribute("aria-disabled")).toBe("true");
  inSight(button);
  later(900);
  fireEvent.click(button, { detail: 1 });
  expect(done).not.toHaveBeenCalled();
  later(200);
  expect(button.hasAttribute("aria-disabled")).toBe(false);
  fireEvent.click(button);
  expect(done).toHaveBeenCalledOnce();
});

test("scrolled away before it was read, it begins anew", () => {
  const done = vi.fn();
  render(
    <Button weight="seen" onClick={done}>
      Settle
    </Button>,
  );
  const button = screen.getByRole("button");
  inSight(button);
  later(600);
  inSight(button, 0.5);
  later(600);
  inSight(button);
  later(600);
  fireEvent.click(button);
  expect(done).not.toHaveBeenCalled();
  later(600);
  fireEvent.click(button);
  expect(done).toHaveBeenCalledOnce();
});

test("what comes to mean something else in its place is a new one", () => {
  const sold = vi.fn();
  const undone = vi.fn();
  const of = (is: boolean) => (
    <Button weight="weighty" onClick={is ? undone : sold}>
      {is ? "Undo" : "Sell"}
    </Button>
  );
  const { rerender } = render(of(false));
  const button = screen.getByRole("button");
  inSight(button);
  later(500);
  fireEvent.click(button);
  rerender(of(true));
  inSight(button);
  fireEvent.click(button);
  expect([sold.mock.calls.length, undone.mock.calls.length]).toEqual([1, 0]);
  later(500);
  fireEvent.click(button);
  expect(undone).toHaveBeenCalledOnce();
});

test("nothing weighty is done beside a field that holds no value", () => {
  const done = vi.fn();
  render(
    <form>
      <input aria-label="Pairs" />
      <Button weight="weighty" onClick={done}>
        Book
      </Button>
    </form>,
  );
  const field = screen.getByLabelText("Pairs") as HTMLInputElement;
  const button = screen.getByRole("button");
  inSight(button);
  later(500);
  field.setCustomValidity("Must be a number.");
  fireEvent.click(button);
  expect(done).not.toHaveBeenCalled();
  expect(document.activeElement).toBe(field);
  field.setCustomValidity("");
  fireEvent.click(button);
  expect(done).toHaveBeenCalledOnce();
});

test("a form is sent once by two presses in a row, and again by a later one", () => {
  const sent = vi.fn((event: { preventDefault: () => void }) => event.preventDefault());
  render(
    <form onSubmit={sent}>
      <Button type="submit">Add and invite</Button>
    </form>,
  );
  const button = screen.getByRole("button");
  fireEvent.click(button);
  later(80);
  fireEvent.click(button);
  expect(sent).toHaveBeenCalledOnce();
  later(600);
  fireEvent.click(button);
  expect(sent).toHaveBeenCalledTimes(2);
});

test("what has answered is meant anew by a key at once, but never by the second press of a double click", () => {
  const sent = vi.fn((event: { preventDefault: () => void }) => event.preventDefault());
  const form = (busy: boolean) => (
    <form onSubmit={sent}>
      <Button type="submit" disabled={busy}>
        Set it
      </Button>
    </form>
  );
  const { rerender } = render(form(false));
  const button = screen.getByRole("button");
  fireEvent.click(button, { detail: 0 });
  rerender(form(true));
  rerender(form(false));
  fireEvent.click(button, { detail: 2 });
  expect(sent).toHaveBeenCalledOnce();
  fireEvent.click(button, { detail: 0 });
  expect(sent).toHaveBeenCalledTimes(2);
});

test("a button that is switched off under the hand keeps the focus and does nothing", () => {
  const done = vi.fn();
  function Once() {
    const [busy, setBusy] = useState(false);
    return (
      <Button
        disabled={busy}
        onClick={() => {
          done();
          setBusy(true);
        }}
      >
        Order it
      </Button>
    );
  }
  render(<Once />);
  const button = screen.getByRole("button") as HTMLButtonElement;
  act(() => button.focus());
  fireEvent.click(button);
  fireEvent.click(button);
  expect(done).toHaveBeenCalledOnce();
  expect(document.activeElement).toBe(button);
  expect([button.disabled, button.getAttribute("aria-disabled")]).toEqual([false, "true"]);
  act(() => button.blur());
  expect(button.disabled).toBe(true);
});

test("a key that is held down presses once", () => {
  render(<Button>Order it</Button>);
  const button = screen.getByRole("button");
  expect(fireEvent.keyDown(button, { key: "Enter" })).toBe(true);
  expect(fireEvent.keyDown(button, { key: "Enter", repeat: true })).toBe(false);
  expect(fireEvent.keyDown(button, { key: "ArrowDown", repeat: true })).toBe(true);
});

function Opened({ unasked = false, field = true }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" onClick={() => setOpen(true)}>
        Open
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title="Told" unasked={unasked}>
        <Button>Have a pair made</Button>
        {field && <input aria-label="Why" defaultValue="dry" />}
      </Dialog>
    </>
  );
}
const open = () => {
  const opener = screen.getByRole("button", { name: "Open" });
  act(() => opener.focus());
  fireEvent.click(opener);
  later(50);
  return opener;
};

test("a dialog begins at its first field and gives the focus back to what opened it", () => {
  render(<Opened />);
  const opener = open();
  expect(document.activeElement).toBe(screen.getByLabelText("Why"));
  fireEvent.keyDown(document.activeElement as Element, { key: "Escape" });
  later(50);
  expect(screen.queryByRole("dialog")).toBeNull();
  expect(document.activeElement).toBe(opener);
});

test("a dialog without fields begins at nothing that acts", () => {
  render(<Opened field={false} />);
  open();
  expect(document.activeElement).toBe(screen.getByRole("dialog"));
});

test("a dialog that came by itself takes no typed key, and says how many went nowhere", () => {
  render(<Opened unasked />);
  open();
  const dialog = screen.getByRole("dialog");
  expect(document.activeElement).toBe(dialog);
  for (const key of ["2", "5", "5", "Enter"]) fireEvent.keyDown(dialog, { key });
  expect(dialog.textContent).toContain("3 keys typed while this came up went nowhere");
  expect((screen.getByLabelText("Why") as HTMLInputElement).value).toBe("dry");
});
