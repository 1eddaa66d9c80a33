import type { ReactNode } from "react";
import { NavLink } from "react-router";

const TABS = [
  { to: "ladder", label: "Ladder" },
  { to: "evidence", label: "Evidence" },
  { to: "cases", label: "Cases" },
  { to: "editions", label: "Editions" },
];

interface SymptomHeadProps {
  playbookId: string;
  title: string;
  /** One line on how things stand. */
  says: ReactNode;
  /** What can be done here, at the right. */
  children?: ReactNode;
}

/** The head of everything under one symptom: its name, its places, what can be done. */
export const SymptomHead = ({ playbookId, title, says, children }: SymptomHeadProps) => (
  <header className="flex shrink-0 flex-wrap items-center gap-x-8 gap-y-2 border-rule border-b px-6 py-3">
    <div className="min-w-0">
      <h1 className="truncate font-bold text-title">{title}</h1>
      <p className="text-dense text-faint">{says}</p>
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
    <div className="ml-auto flex items-center gap-2">{children}</div>
  </header>
);
