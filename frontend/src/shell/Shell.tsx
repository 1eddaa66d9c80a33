import { useState } from "react";
import { NavLink, Outlet, useNavigate } from "react-router";
import { useLeftEdits } from "../draft/left";
import { useKeys } from "../ui/useKeys";
import { DoneRunning } from "./DoneRunning";
import { FindBox } from "./FindBox";
import { KeysDialog } from "./KeysDialog";
import { MayBeOld } from "./MayBeOld";
import { UnsentElsewhere } from "./outbox/UnsentElsewhere";
import { WhoMenu } from "./WhoMenu";
import { WhoStrip } from "./WhoStrip";

const PLACES = [
  { to: "/", label: "Desk" },
  { to: "/cases", label: "Cases" },
];

/** The top line, and below it the place that one is at. */
export const Shell = () => {
  const [areKeysShown, setKeysShown] = useState(false);
  const navigate = useNavigate();
  useLeftEdits();
  useKeys({ keys: () => setKeysShown(true), start: () => navigate("/start") });
  return (
    // Clipped, not hidden: what is brought into view may scroll the page below the head, and never the head away.
    <div className="relative flex h-dvh flex-col overflow-clip print:block print:h-auto print:overflow-visible">
      <a href="#place" className="button sr-only bg-sheet focus:not-sr-only">
        Skip to the page
      </a>
      <header className="flex shrink-0 flex-wrap items-center gap-x-6 gap-y-2 border-rule border-b px-6 py-2 max-md:px-4">
        <span className="font-bold text-lead">Mild Ladder</span>
        <nav aria-label="Places" className="flex gap-5">
          {PLACES.map(({ to, label }) => (
            <NavLink
              key={to}
              to={to}
              end={to === "/"}
              className="border-transparent border-b-2 py-1 text-faint hover:text-ink aria-[current=page]:border-ink aria-[current=page]:text-ink"
            >
              {label}
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex items-center gap-3 max-md:w-full max-[36rem]:ml-0 sm:max-md:w-auto sm:max-md:flex-1">
          <FindBox />
          <NavLink to="/start" className="button">
            Start a case
          </NavLink>
          <WhoMenu onShowKeys={() => setKeysShown(true)} />
        </div>
      </header>
      <WhoStrip />
      <MayBeOld />
      <UnsentElsewhere />
      <DoneRunning />
      <main
        id="place"
        tabIndex={-1}
        className="flex min-h-0 flex-1 flex-col outline-none low:overflow-y-auto print:block print:overflow-visible"
      >
        <Outlet />
      </main>
      <KeysDialog isOpen={areKeysShown} onOpenChange={setKeysShown} />
    </div>
  );
};
