/** What was left in a field that holds no value, when the field went: told until somebody has read it. */
import { signal } from "../api/signal";

export interface Unread {
  name: string;
  text: string;
}
let all: readonly Unread[] = [];
const changed = signal();

export const unreadNow = (): readonly Unread[] => all;
export const subscribeUnread = changed.subscribe;

function tell(next: readonly Unread[]): void {
  all = next;
  changed.tell();
}

export const noteUnread = (unread: Unread): void => tell([...all, unread]);

/** The message was read. */
export const forgetUnread = (): void => tell([]);
