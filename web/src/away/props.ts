/** What each part of the athlete's page is given. */
import type { Page } from "./away";

export interface Props {
  token: string;
  page: Page;
  onPage: (page: Page) => void;
}
