/** Who works where this tablet is: a tap on one's name, a PIN, and one is where one was. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Schemas, Trouble } from "../api/client";
import { Button } from "../ui/Button";
import { isWhole, PinPad } from "./PinPad";

type Person = Schemas["PersonHere"];

interface HereProps {
  people: Person[];
  onIn: (me: Schemas["Me"]) => void;
  /** By a password instead: of one of them, or of somebody else. */
  onPassword: (login: string) => void;
}

export function Here({ people, onIn, onPassword }: HereProps) {
  const [chosen, setChosen] = useState<Person | null>(null);
  if (chosen)
    return (
      <ByPin
        key={chosen.id}
        person={chosen}
        onIn={onIn}
        onBack={() => setChosen(null)}
        onPassword={() => onPassword(chosen.login)}
      />
    );
  return (
    <div className="w-96 max-w-full">
      <ul className="grid grid-cols-2 gap-2">
        {people.map((p) => (
          <li key={p.id}>
            <Button
              className="min-h-16 w-full text-left text-lg leading-tight"
              onClick={() => (p.pin ? setChosen(p) : onPassword(p.login))}
            >
              {p.name}
              <span className="block text-faint text-xs">{p.pin ? p.role : `${p.role}, by password`}</span>
            </Button>
          </li>
        ))}
      </ul>
      <Button kind="quiet" className="mt-3" onClick={() => onPassword("")}>
        Somebody else
      </Button>
    </div>
  );
}

function ByPin({
  person,
  onIn,
  onBack,
  onPassword,
}: {
  person: Person;
  onIn: HereProps["onIn"];
  onBack: () => void;
  onPassword: () => void;
}) {
  const [pin, setPin] = useState("");
  const enter = useMutation({
    mutationFn: (digits: string) =>
      ask(http.POST("/api/session/pin", { body: { person: person.id, pin: digits } })),
    onSuccess: onIn,
    onError: () => setPin(""),
  });
  const over = enter.error instanceof Trouble && enter.error.problem.code === "pin-over";
  const put = (digits: string) => {
    setPin(digits);
    if (isWhole(digits)) enter.mutate(digits);
  };
  return (
    <div>
      {!over && <PinPad label={`PIN of ${person.name}`} value={pin} onChange={put} busy={enter.isPending} />}
      {enter.error && (
        <p role="alert" className="mt-2 max-w-64 border-madder border-l-4 pl-2">
          {enter.error.message}
        </p>
      )}
      <span className="mt-3 flex gap-2">
        <Button onClick={onBack}>Somebody else</Button>
        <Button kind={over ? "strong" : "quiet"} onClick={onPassword}>
          By password
        </Button>
      </span>
    </div>
  );
}
