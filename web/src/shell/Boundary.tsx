/** Round the shell and round each station: what fails inside says so, and the rest of the bench stays. */
import { type ReactNode, Suspense, useState } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { tellFailure } from "../api/failures";
import { Button } from "../ui/Button";
import { Loading, Note } from "../ui/words";

/** A part that could not be fetched is not asked for again by the browser: the page is opened anew, once it can be. */
async function openAnew(): Promise<boolean> {
  try {
    await fetch("/health", { cache: "no-store", signal: AbortSignal.timeout(8000) });
  } catch {
    return false;
  }
  window.location.reload();
  return true;
}

function Failed({ error, resetErrorBoundary, what }: FallbackProps & { what: string }) {
  const loading = error instanceof TypeError && /import|module|fetch/i.test(error.message);
  const [still, setStill] = useState(false);
  return (
    <Note title={loading ? `${what} could not be loaded` : `${what} can't be drawn`}>
      <p>
        {loading
          ? "The connection was away, or a newer version is here. What you typed is kept."
          : "Something went wrong in drawing it, and was noted in the log. What you typed is kept."}
      </p>
      {still && <p role="alert">There is still no connection.</p>}
      <p className="mt-3 flex gap-2">
        <Button
          kind="strong"
          onClick={() => (loading ? void openAnew().then((done) => setStill(!done)) : resetErrorBoundary())}
        >
          Try again
        </Button>
      </p>
    </Note>
  );
}

interface Props {
  /** What is inside, as a sentence begins: "This station". */
  what: string;
  /** Coming to another place clears the failure. */
  at: string;
  children: ReactNode;
}

export function Boundary({ what, at, children }: Props) {
  return (
    <ErrorBoundary
      resetKeys={[at]}
      onError={tellFailure}
      fallbackRender={(props) => <Failed {...props} what={what} />}
    >
      <Suspense fallback={<Loading what={what.toLowerCase()} />}>{children}</Suspense>
    </ErrorBoundary>
  );
}
