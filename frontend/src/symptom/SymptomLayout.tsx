import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { createPortal } from "react-dom";
import { NavLink, Outlet, useOutletContext, useParams } from "react-router";
import { symptomsQuery } from "../api/lists";
import { NotHere } from "../shell/NotHere";
import { Heading } from "../ui/Heading";
import { LoadFailed, Loading } from "../ui/States";

const TABS = [
  { to: "symptom", label: "Symptom" },
  { to: "ladder", label: "Ladder" },
  { to: "evidence", label: "Evidence" },
  { to: "cases", label: "Cases" },
  { to: "editions", label: "Editions" },
];

/** Where a page under a symptom puts what it says and offers in the head. */
interface Slots {
  says: Element | null;
  actions: Element | null;
}

/** The layout of everything under one symptom: its name and its places stay while one goes from one to another. */
export const SymptomLayout = () => {
  const { playbookId = "" } = useParams();
  const { data: symptoms, error, refetch, isFetching } = useQuery(symptomsQuery);
  const [says, setSays] = useState<Element | null>(null);
  const [actions, setActions] = useState<Element | null>(null);
  const symptom = symptoms?.find(({ id }) => id === playbookId);
  if (!symptoms) return error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading rows={9} />;
  // One that was begun a moment ago may not have been told of yet.
  if (!symptom) return isFetching ? <Loading rows={9} /> : <NotHere />;
  return (
    <>
      <header className="flex shrink-0 flex-wrap items-center gap-x-8 gap-y-2 border-rule border-b px-6 py-3 max-xl:gap-x-6 max-md:px-4">
        <div className="min-w-0 lg:max-xl:w-80">
          <Heading key={playbookId} isNamedBelow>
            {symptom.title}
          </Heading>
          <p ref={setSays} className="min-h-[1.15rem] text-dense text-faint" />
        </div>
        <nav aria-label="Of this symptom" className="flex gap-6">
          {TABS.map(({ to, label }) => (
            <NavLink
              key={to}
              to={`/playbooks/${playbookId}/${to}`}
              className="border-transparent border-b-2 py-1 text-faint hover:text-ink aria-[current=page]:border-ink aria-[current=page]:font-semibold aria-[current=page]:text-ink"
            >
              {label}
            </NavLink>
          ))}
        </nav>
        <div ref={setActions} className="ml-auto flex items-center gap-2" />
      </header>
      <Outlet context={{ says, actions } satisfies Slots} />
    </>
  );
};

interface InHeadProps {
  /** One line on how things stand. */
  says: ReactNode;
  /** What can be done here, at the right. */
  children?: ReactNode;
}

/** What a page says and offers in the head of its symptom. */
export const InHead = ({ says, children }: InHeadProps) => {
  const slots = useOutletContext<Slots>();
  return (
    <>
      {slots.says && createPortal(says, slots.says)}
      {slots.actions && createPortal(children, slots.actions)}
    </>
  );
};
