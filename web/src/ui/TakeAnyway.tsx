/** A pair that is promised to another: whom, until when; taken all the same only with a reason, which they are told. */
import { useState } from "react";
import { Button } from "./Button";

interface TakeAnywayProps {
  /** Who holds it. */
  message: string;
  /** What taking it is called: "Sell it anyway". */
  verb: string;
  busy: boolean;
  onTake: (why: string) => void;
}

export function TakeAnyway({ message, verb, busy, onTake }: TakeAnywayProps) {
  const [why, setWhy] = useState("");
  return (
    <form
      data-held
      className="my-2 border-madder border-l-4 pl-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (why.trim() && !busy) onTake(why.trim());
      }}
    >
      <p role="alert">{message}</p>
      <div className="flex flex-wrap items-end gap-2">
        <label className="min-w-60 flex-1 text-faint text-xs">
          Why it is taken all the same: they are told
          <input
            value={why}
            maxLength={200}
            onChange={(e) => setWhy(e.target.value)}
            className="block min-h-11 w-full rounded-sm border border-ink/45 bg-sheet px-2.5 text-base text-ink"
          />
        </label>
        <Button weight="seen" type="submit" disabled={!why.trim() || busy}>
          {verb}
        </Button>
      </div>
    </form>
  );
}
