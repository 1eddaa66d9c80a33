import { Link, useRouteError } from "react-router";
import { Heading } from "../ui/Heading";

/** An address that leads nowhere. */
export const NotHere = () => (
  <div className="m-6 max-w-prose border-rule border-l-4 pl-4">
    <Heading className="font-semibold text-lead">There is no such page</Heading>
    <Link to="/" className="link">
      Go to the desk
    </Link>
  </div>
);

/** A page that broke: what was entered is on the server already; loading the page again is safe. */
export const PageBroke = () => {
  const error = useRouteError();
  return (
    <div role="alert">
      <div className="m-6 max-w-prose border-rule border-l-4 pl-4">
        <Heading className="font-semibold text-lead">This page broke</Heading>
        <p>{error instanceof Error ? error.message : "Something unforeseen happened."}</p>
        <p className="mt-2">Everything that was saved is kept. It is safe to load the page again.</p>
        <button type="button" className="button mt-3" onClick={() => window.location.reload()}>
          Load again
        </button>
      </div>
    </div>
  );
};
