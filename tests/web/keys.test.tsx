// @vitest-environment jsdom
/** Keys of a station: which act once however long they are held, and who is asked first. */
import { cleanup, render } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { useKeys } from "../../web/src/shell/keys";

function Station({ handlers }: { handlers: Record<string, () => void> }) {
  useKeys(handlers);
  return <main />;
}
afterEach(cleanup);

const press = (key: string, more: KeyboardEventInit = {}) =>
  window.dispatchEvent(new KeyboardEvent("keydown", { key, cancelable: true, ...more }));

it.each([
  ["Enter", 1],
  ["1", 1],
  [" ", 1],
  ["[", 4],
  ["ArrowDown", 4],
])("%s held over four beats acts %i times", (key, times) => {
  const acts = vi.fn();
  render(<Station handlers={{ [key]: acts }} />);
  press(key);
  for (let beat = 0; beat < 3; beat++) press(key, { repeat: true });
  expect(acts).toHaveBeenCalledTimes(times);
});

it("what opened last is asked first, and gives its keys back when it goes", () => {
  const [below, above] = [vi.fn(), vi.fn()];
  render(<Station handlers={{ a: below }} />);
  const over = render(<Station handlers={{ a: above }} />);
  press("a");
  over.unmount();
  press("a");
  expect([below.mock.calls.length, above.mock.calls.length]).toEqual([1, 1]);
});
