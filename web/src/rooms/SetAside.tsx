/** Something found that shouldn't count: set aside with a reason, and kept. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { TextField } from "../ui/TextField";

interface Props {
  title: string;
  /** What it is, or which of it. */
  children: ReactNode;
  /** The id makes a second press the same one. */
  put: (said: { id: string; reason: string }) => Promise<unknown>;
  onClose: () => void;
}

export function SetAside({ title, children, put, onClose }: Props) {
  const client = useQueryClient();
  const [reason, setReason] = useState("");
  const [id] = useState(() => crypto.randomUUID());
  const going = useMutation({
    mutationFn: () => put({ id, reason: reason.trim() }),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["ledger"] });
      onClose();
    },
  });
  return (
    <Dialog open onClose={onClose} title={title}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (reason.trim()) going.mutate();
        }}
      >
        <div className="mb-3">{children}</div>
        <TextField
          label="Why it shouldn't count"
          value={reason}
          onChange={setReason}
          error={going.error?.message}
        />
        <p className="mt-2 text-faint text-sm">All is kept: what was found, and why it doesn't count.</p>
        <Button
          kind="strong"
          weight="weighty"
          type="submit"
          className="mt-3"
          disabled={!reason.trim() || going.isPending}
        >
          Set it aside
        </Button>
      </form>
    </Dialog>
  );
}
