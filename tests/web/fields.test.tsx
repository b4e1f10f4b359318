// @vitest-environment jsdom
/** Fields as a hand types into them: what is given on, what is told, and what comes from outside meanwhile. */
import { act, cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, expect, test } from "vitest";
import { DateField } from "../../web/src/ui/DateField";
import { NumberField } from "../../web/src/ui/NumberField";
import { forgetUnread, unreadNow } from "../../web/src/ui/unread";
import { TextField } from "../../web/src/ui/TextField";

afterEach(cleanup);

let set: (value: number | null) => void = () => {};
let given: (number | null)[] = [];

function Number_({ start, ...rest }: { start: number | null; min?: number; max?: number; usual?: number; error?: string }) {
  const [value, setValue] = useState(start);
  set = setValue;
  return (
    <>
      <NumberField
        label="Length"
        unit="mm"
        value={value}
        onChange={(to) => {
          given.push(to);
          setValue(to);
        }}
        {...rest}
      />
      <output>{String(value)}</output>
      <button type="button">elsewhere</button>
    </>
  );
}

function shown(start: number | null, more: Omit<Parameters<typeof Number_>[0], "start"> = {}) {
  given = [];
  render(<Number_ start={start} {...more} />);
  return { hand: userEvent.setup(), field: screen.getByLabelText("Length") as HTMLInputElement };
}
const kept = () => screen.getByRole("status").textContent;
const complaint = () => screen.queryByRole("alert")?.textContent ?? "";

test("a number that changes from outside takes the place of what was typed, also under the hand", async () => {
  const { hand, field } = shown(1);
  await hand.type(field, "3", { initialSelectionStart: 0, initialSelectionEnd: 1 });
  expect([field.value, kept()]).toEqual(["3", "3"]);
  act(() => set(1)); // booked: the dialog begins anew
  expect([field.value, kept()]).toEqual(["1", "1"]);
});

test("what is no number is no half of one, and its complaint stays when the field is left", async () => {
  const { hand, field } = shown(240);
  await hand.clear(field);
  await hand.type(field, "12o");
  expect(kept()).toBe("240");
  expect(complaint()).toBe("Must be a number in mm.");
  await hand.click(screen.getByText("elsewhere"));
  expect([field.value, kept(), complaint()]).toEqual(["12o", "240", "Must be a number in mm."]);
  await hand.type(field, "{Backspace}0", { initialSelectionStart: 3 });
  expect([field.value, kept(), complaint()]).toEqual(["120", "120", ""]);
});

test("what is no number is told of where a value from outside takes its place, and no arrow steps it", async () => {
  const { hand, field } = shown(240);
  await hand.clear(field);
  await hand.type(field, "12os98{ArrowDown}{ArrowUp}");
  expect([field.value, kept()]).toEqual(["12os98", "240"]);
  act(() => set(201.5)); // somebody else measured it meanwhile
  expect([field.value, kept()]).toEqual(["201.5", "201.5"]);
  expect(unreadNow()).toEqual([{ name: "Length", text: "12os98" }]);
  forgetUnread();
});

test("a value beyond the limits that was there before is nothing somebody typed", async () => {
  shown(90, { min: 110, max: 380 });
  act(() => set(95));
  expect(unreadNow()).toEqual([]);
});

test.each(["1e3", "0x10", "12,5,5", "--4", "Infinity"])("%s is no number", async (text) => {
  const { hand, field } = shown(240);
  await hand.clear(field);
  await hand.type(field, text);
  expect(kept()).toBe("240");
  expect(complaint()).toBe("Must be a number in mm.");
});

test.each([
  ["255,5", "255.5"],
  [" 255 ", "255"],
  [".5", "0.5"],
  ["+7", "7"],
  ["-2.", "-2"],
])("%s is the number %s", async (text, value) => {
  const { hand, field } = shown(240);
  await hand.clear(field);
  await hand.type(field, text);
  expect(kept()).toBe(value);
  await hand.tab();
  expect([field.value, complaint()]).toEqual([value, ""]);
});

test("too little is told when the field is left, too much at once", async () => {
  const { hand, field } = shown(200, { min: 110, max: 380 });
  await hand.clear(field);
  await hand.type(field, "25");
  expect([kept(), complaint()]).toEqual(["200", ""]);
  await hand.type(field, "5");
  expect(kept()).toBe("255");
  await hand.type(field, "5");
  expect([kept(), complaint()]).toEqual(["200", "At most 380 mm."]);
  await hand.clear(field);
  await hand.type(field, "25");
  expect(complaint()).toBe("");
  await hand.tab();
  expect([field.value, kept(), complaint()]).toEqual(["25", "200", "At least 110 mm."]);
});

test("why the server refused it waits until the field is left", async () => {
  const { hand, field } = shown(2, { error: "Must be at least 20." });
  expect(complaint()).toBe("Must be at least 20.");
  await hand.type(field, "5");
  expect(complaint()).toBe("");
  await hand.tab();
  expect(complaint()).toBe("Must be at least 20.");
});

test("arrows begin at the usual value, and stay within the limits", async () => {
  const { hand, field } = shown(null, { usual: 70, max: 71 });
  field.focus();
  await hand.keyboard("{ArrowUp}");
  expect(kept()).toBe("70");
  await hand.keyboard("{ArrowUp}{ArrowUp}{ArrowUp}");
  expect(kept()).toBe("71");
  await hand.keyboard("{Shift>}{ArrowDown}{/Shift}");
  expect(kept()).toBe("70.5");
});

test("what is left behind in a field that goes, and is no number, is told; what is one isn't", async () => {
  forgetUnread();
  const { hand, field } = shown(240);
  await hand.clear(field);
  await hand.type(field, "255p");
  cleanup();
  expect(unreadNow()).toEqual([{ name: "Length", text: "255p" }]);
  const again = shown(240);
  await again.hand.clear(again.field);
  await again.hand.type(again.field, "255");
  cleanup();
  expect(unreadNow()).toHaveLength(1);
  forgetUnread();
  expect(unreadNow()).toEqual([]);
});

test("an emptied field is nothing, and no nought", async () => {
  const { hand, field } = shown(240);
  await hand.clear(field);
  expect([given.at(-1), complaint()]).toEqual([null, ""]);
});

test("a text that is set anew from outside shows, also while the field has the focus", async () => {
  let say: (text: string) => void = () => {};
  function Text() {
    const [text, setText] = useState("dry");
    say = setText;
    return <TextField label="Why" value={text} onChange={setText} />;
  }
  render(<Text />);
  const field = screen.getByLabelText("Why") as HTMLInputElement;
  await userEvent.setup().type(field, " air");
  expect(field.value).toBe("dry air");
  act(() => say(""));
  expect(field.value).toBe("");
});

test("a day is given on when the field is left, and half a day never", async () => {
  const days: (string | null)[] = [];
  function Day() {
    const [value, setValue] = useState("2026-11-02");
    return (
      <DateField
        label="Day"
        value={value}
        onCommit={(day) => {
          days.push(day);
          setValue(day ?? "");
        }}
      />
    );
  }
  render(<Day />);
  const hand = userEvent.setup();
  const field = screen.getByLabelText("Day") as HTMLInputElement;
  await hand.clear(field);
  await hand.type(field, "2026-12-05");
  expect(days).toEqual([]);
  await hand.tab();
  expect(days).toEqual(["2026-12-05"]);
  // As a browser says it while a part of the day is missing: no value, and a bad input.
  await hand.clear(field);
  Object.defineProperty(field, "validity", { value: { badInput: true } });
  await hand.tab();
  expect(days).toEqual(["2026-12-05"]);
  expect(screen.getByRole("alert").textContent).toContain("Not a whole date");
});
