/** Whom to tell that their pair is here, how, and a text ready to send; and that they were told. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, http, type Schemas } from "../../api/client";
import type { Order } from "../../api/orders";
import { Button } from "../../ui/Button";
import { moment } from "../../ui/clock";

export function Tell({ order }: { order: Order }) {
  const client = useQueryClient();
  const path = { params: { path: { order_id: order.id } } };
  const key = ["tell", order.id];
  const found = useQuery({
    queryKey: key,
    queryFn: () => ask(http.GET("/api/orders/{order_id}/tell", path)),
  });
  const [copied, setCopied] = useState(false);
  const kept = (now: Schemas["TellOut"]) => client.setQueryData(key, now);
  const told = useMutation({
    mutationFn: (yes: boolean) =>
      ask(
        yes
          ? http.PUT("/api/orders/{order_id}/told", path)
          : http.DELETE("/api/orders/{order_id}/told", path),
      ),
    onSuccess: kept,
  });
  if (!found.data) return null;
  const { whom, text, reached_at, reached_by, athlete_id } = found.data;
  if (reached_at)
    return (
      <p className="flex flex-wrap items-center gap-2 text-sm" data-told>
        {reached_by} told them, {moment(reached_at)}.
        <Button kind="quiet" disabled={told.isPending} onClick={() => told.mutate(false)}>
          They weren't told
        </Button>
      </p>
    );
  return (
    <div className="my-1 border-ink border-l-4 pl-3 text-sm" data-tell>
      {whom.name ? (
        <>
          <p>
            Tell <b>{whom.name}</b>: {whom.how}, <span className="font-mono">{whom.to}</span>
          </p>
          <p className="text-faint">{text}</p>
        </>
      ) : (
        <p>
          {whom.not_yet}{" "}
          <Link to={`/athletes/${athlete_id}`} className="inline-flex min-h-11 items-center underline">
            To their page
          </Link>
        </p>
      )}
      <span className="flex flex-wrap items-center gap-2">
        {text && navigator.clipboard && (
          <Button
            onClick={() => {
              void navigator.clipboard.writeText(text).then(
                () => setCopied(true),
                () => setCopied(false),
              );
            }}
          >
            Copy the text
          </Button>
        )}
        {copied && <span role="status">copied</span>}
        <Button disabled={told.isPending} onClick={() => told.mutate(true)}>
          They know
        </Button>
        {told.error && <span role="alert">{told.error.message}</span>}
      </span>
    </div>
  );
}
