/** Round the shell and round each station: what fails inside says so, and the rest of the bench stays. */
import { type ReactNode, Suspense } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { tellFailure } from "../api/failures";
import { askAgain } from "../ui/later";
import { Button, Loading, Note } from "../ui/parts";

function Failed({ error, resetErrorBoundary, what }: FallbackProps & { what: string }) {
  const loading = error instanceof TypeError && /import|module|fetch/i.test(error.message);
  return (
    <main tabIndex={-1}>
      <Note title={loading ? `${what} could not be loaded` : `${what} can't be drawn`}>
        <p>
          {loading
            ? "The connection was away, or a newer version is here. What you typed is kept."
            : "Something went wrong in drawing it, and was noted in the log. What you typed is kept."}
        </p>
        <p className="mt-3 flex gap-2">
          <Button
            kind="strong"
            onClick={() => {
              askAgain();
              resetErrorBoundary();
            }}
          >
            Try again
          </Button>
          <Button onClick={() => window.location.reload()}>Open the page anew</Button>
        </p>
      </Note>
    </main>
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
      FallbackComponent={(props) => <Failed {...props} what={what} />}
    >
      <Suspense fallback={<Loading what={what.toLowerCase()} />}>{children}</Suspense>
    </ErrorBoundary>
  );
}
