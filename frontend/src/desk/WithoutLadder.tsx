import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { plural } from "../ui/format";
import { withoutPlaybookQuery } from "./begin/queries";

/** Cases that no agent had a ladder for, and the way to a first one. */
export const WithoutLadder = () => {
  const { data } = useQuery(withoutPlaybookQuery);
  const found = data?.symptoms.filter(({ is_enough }) => is_enough) ?? [];
  if (found.length === 0) return null;
  return (
    <p className="mt-3 border-brass border-l-4 pl-3">
      Without a playbook: {found.map(({ called, cases }) => `${called}, ${plural(cases, "case")}`).join("; ")}.{" "}
      <Link to="/new" className="link">
        Begin a ladder from the log
      </Link>
    </p>
  );
};
