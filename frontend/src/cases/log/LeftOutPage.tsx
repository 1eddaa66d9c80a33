import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { LeftOut } from "../../api/types";
import { count, moment, plural } from "../../ui/format";
import { Heading } from "../../ui/Heading";
import { Empty, LoadFailed, Loading } from "../../ui/States";
import { leftOutQuery } from "./queries";

/** Lines of brought-in case files that are in no log: where, why, and word for word. */
export const LeftOutPage = () => {
  const { data, error, refetch } = useQuery(leftOutQuery);
  return (
    <>
      <header className="shrink-0 px-6 pt-4 pb-3">
        <p className="text-dense">
          <Link to="/cases" className="link">
            Cases
          </Link>
        </p>
        <Heading>Left out</Heading>
        {!!data?.total && (
          <p className="max-w-prose text-faint">
            {plural(data.total, "line")} of brought-in files could not be read and {data.total === 1 ? "is" : "are"} in
            no figure. Mend the file where it comes from and bring it in again: what is in the log already is passed
            over.
          </p>
        )}
      </header>
      {data ? <Lines leftOut={data} /> : error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading rows={8} />}
    </>
  );
};

const Lines = ({ leftOut: { total, lines } }: { leftOut: LeftOut }) => {
  if (total === 0) {
    return <Empty title="Nothing is left out">Every line of the files that were brought in is in the log.</Empty>;
  }
  return (
    <section aria-label="Lines left out" className="min-h-0 flex-1 overflow-auto px-6 pb-6">
      <table className="w-full border-collapse">
        <thead className="sticky top-0 bg-paper text-left text-dense text-faint">
          <tr className="[&>th]:py-2 [&>th]:pr-4 [&>th]:font-normal">
            <th scope="col" className="w-20 text-right">
              line
            </th>
            <th scope="col" className="w-[26rem]">
              why
            </th>
            <th scope="col">how it begins</th>
          </tr>
        </thead>
        {files(lines).map(([source, ofFile]) => (
          <tbody key={source}>
            <tr className="border-rule border-t">
              <th scope="rowgroup" colSpan={3} className="pt-3 pb-1 text-left">
                {source} <span className="font-normal text-dense text-faint">brought in {moment(ofFile[0].at)}</span>
              </th>
            </tr>
            {ofFile.map(({ line, path, says, text }) => (
              <tr key={line} className="border-rule border-t align-top hover:bg-sheet [&>td]:py-1.5 [&>td]:pr-4">
                <td className="text-right text-faint">{count(line)}</td>
                <td>
                  {path && <code className="mr-2 text-dense">{path}</code>}
                  {says}
                </td>
                <td>
                  <code className="line-clamp-2 break-all text-dense text-faint">{text}</code>
                </td>
              </tr>
            ))}
          </tbody>
        ))}
      </table>
      {total > lines.length && <p className="mt-3 text-faint">and {count(total - lines.length)} more</p>}
    </section>
  );
};

type Line = LeftOut["lines"][number];

/** The lines by file, in their order; no file without a line. */
function files(lines: Line[]): [string, [Line, ...Line[]]][] {
  const found = new Map<string, [Line, ...Line[]]>();
  for (const line of lines) {
    const before = found.get(line.source);
    if (before) before.push(line);
    else found.set(line.source, [line]);
  }
  return [...found];
}
