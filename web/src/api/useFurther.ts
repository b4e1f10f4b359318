/** The next page of a long list, asked for as its end comes near; while it can't be had, only now and then. */
import { useEffect } from "react";

const AGAIN_MS = 3000;

interface Pages {
  hasNextPage: boolean;
  isFetchingNextPage: boolean;
  isFetchNextPageError: boolean;
  fetchNextPage: () => unknown;
}

export function useFurther(list: Pages, near: boolean): void {
  const { hasNextPage, isFetchingNextPage, isFetchNextPageError, fetchNextPage } = list;
  useEffect(() => {
    if (!near || !hasNextPage || isFetchingNextPage) return;
    const timer = setTimeout(() => void fetchNextPage(), isFetchNextPageError ? AGAIN_MS : 0);
    return () => clearTimeout(timer);
  }, [near, hasNextPage, isFetchingNextPage, isFetchNextPageError, fetchNextPage]);
}
