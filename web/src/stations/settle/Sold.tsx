/** The sale as the journal has it: its number, what was done upon it; undone within minutes, else brought back. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { useStoreFitting } from "../../api/fitting";
import { forgetPast } from "../../api/history";
import { useBegin } from "../../shell/begin";
import { BroughtBack } from "../../ui/BroughtBack";
import { Button } from "../../ui/Button";
import { day } from "../../ui/clock";
import { money } from "../../ui/money";
import { printed } from "../../ui/pair";

export const standsOf = (sale: Schemas["SaleOut"]) => sale.lines[0]?.stands_minor ?? 0;

interface Props {
  sale: Schemas["SaleOut"];
  mayNot: boolean;
  onUndone: () => void;
}

export function Sold({ sale, mayNot, onUndone }: Props) {
  const { fitting } = useDesk();
  const store = useStoreFitting();
  const begin = useBegin();
  const [asking, setAsking] = useState(false);
  const undo = useMutation({
    mutationFn: () =>
      ask(
        http.DELETE("/api/fittings/{fitting_id}/sale/{sale_id}", {
          params: { path: { fitting_id: fitting.id, sale_id: sale.id } },
        }),
      ),
    onSuccess: (whole) => {
      onUndone();
      forgetPast(fitting.id);
      store(whole);
    },
  });
  const [line, ...upon] = sale.lines;
  const size =
    sale.label == null ? `EU ${sale.eu_label}` : printed({ system: sale.system ?? "eu", label: sale.label });
  const back = line?.back_already;
  return (
    <div data-sold>
      <div className="flex flex-wrap items-start justify-between gap-3">
        <p className="text-lg">
          Settled on <b>{`${sale.maker} ${sale.name}`}</b>, <span className="font-mono">{size}</span>, by{" "}
          {sale.sold_by} on {day(sale.sold_on)}.
          {line && (
            <span className="block text-faint text-sm">
              Sale <b className="font-mono">{line.number}</b>, {money(line.total_minor, line.currency)}
              {line.discount_minor > 0 && `, ${money(line.discount_minor, line.currency)} off (${line.why})`}
              {line.price_said && ", price said for this sale"}
              {line.till_number && `, till ${line.till_number}`}
              {line.upon && `, in exchange upon ${line.upon}`}
            </span>
          )}
        </p>
        <span className="flex gap-2">
          {fitting.state === "settled" && !sale.too_late && (
            <Button weight="weighty" disabled={undo.isPending || mayNot} onClick={() => undo.mutate()}>
              Undo the sale
            </Button>
          )}
          {line && line.stands_minor > 0 && !back && (
            <Button disabled={mayNot} onClick={() => setAsking(true)}>
              It came back
            </Button>
          )}
        </span>
      </div>
      {upon.length > 0 && (
        <ul className="mt-1 text-sm" aria-label="Done upon the sale">
          {upon.map((l) => (
            <li key={l.id}>
              <span className="font-mono">{l.number}</span> {day(l.day)}: {l.says.toLowerCase()}{" "}
              {money(Math.abs(l.total_minor), l.currency)}
              {l.became_says && `, ${l.became_says}`}
              {l.why && `: ${l.why}`}, by {l.by}
            </li>
          ))}
        </ul>
      )}
      {back && (
        <Button
          className="mt-2"
          kind="strong"
          weight="weighty"
          disabled={begin.isPending}
          onClick={() => begin.mutate(fitting.athlete.id)}
        >
          Fit them again
        </Button>
      )}
      {undo.error && (
        <p role="alert" className="mt-2 border-madder border-l-4 pl-2">
          {undo.error.message}
        </p>
      )}
      {asking && line && (
        <BroughtBack
          line={line}
          stands={standsOf(sale)}
          onClose={() => setAsking(false)}
          onDone={(exchange) => {
            forgetPast(fitting.id);
            if (exchange) begin.mutate(fitting.athlete.id);
          }}
        />
      )}
    </div>
  );
}
