import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { meQuery } from "../api/me";
import { useChoosePerson, useJoin } from "./queries";

const ROLES = ["lead", "agent", "technician"] as const;

/** Asks once per browser who sits at it; shown until somebody has said. */
export const WhoStrip = () => {
  const { data: me } = useQuery(meQuery);
  const choose = useChoosePerson();
  if (!me || me.person) return null;
  return (
    <section aria-label="Who sits here" className="flex flex-wrap items-center gap-2 border-brass border-b-2 px-6 py-2">
      <p className="mr-2 font-semibold">Who sits at this browser?</p>
      {me.people.map((person) => (
        <button
          key={person.id}
          type="button"
          className="button"
          onClick={() => choose.mutate(person.id, { onSuccess: backToThePage })}
        >
          {person.name}
          <span className="font-normal text-dense text-faint">{person.role}</span>
        </button>
      ))}
      {me.people.length === 0 && <Join />}
      {choose.error && <p role="alert">{choose.error.message}</p>}
    </section>
  );
};

/** The strip goes, and the focus with it: on to where the page is typed into, if it is anywhere. */
const backToThePage = () => document.querySelector<HTMLElement>("main textarea, main input")?.focus();

/** The first person of a desk that has none yet. */
const Join = () => {
  const [name, setName] = useState("");
  const [role, setRole] = useState<(typeof ROLES)[number]>("lead");
  const join = useJoin();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (name.trim()) join.mutate({ name: name.trim(), role });
  };
  return (
    <form className="flex items-center gap-2" onSubmit={submit}>
      <input
        aria-label="Your name"
        className="field w-48"
        placeholder="Your name"
        value={name}
        maxLength={80}
        onChange={(event) => setName(event.target.value)}
      />
      <select
        aria-label="Your part"
        className="field w-32"
        value={role}
        onChange={(event) => setRole(ROLES.find((r) => r === event.target.value) ?? "lead")}
      >
        {ROLES.map((r) => (
          <option key={r}>{r}</option>
        ))}
      </select>
      <button type="submit" className="button" data-tone="main" disabled={!name.trim()}>
        Sit down here
      </button>
      {join.error && <p role="alert">{join.error.message}</p>}
    </form>
  );
};
