/** What was left in a field that holds no value, when the field went: told until somebody has read it. */

export interface Unread {
  name: string;
  text: string;
}
let all: readonly Unread[] = [];
const listeners = new Set<() => void>();

export const unreadNow = (): readonly Unread[] => all;
export const subscribeUnread = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

function tell(next: readonly Unread[]): void {
  all = next;
  for (const listener of listeners) listener();
}

export const noteUnread = (unread: Unread): void => tell([...all, unread]);

/** The message was read. */
export const forgetUnread = (): void => tell([]);
