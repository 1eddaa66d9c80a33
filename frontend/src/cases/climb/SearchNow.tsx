import type { Search } from "../../api/types";
import { minutes, plural } from "../../ui/format";
import { Prose } from "../../ui/Prose";

const MOST_DRAWN = 40;

/** A search among like suspects: which are tried now, which are cleared, and how much of it is left. */
export const SearchNow = ({ search, isTested = false }: { search: Search; isTested?: boolean }) => (
  <section aria-labelledby="search-now" className="mt-4 border-plum border-l-4 bg-sheet px-4 py-2.5">
    <h2 id="search-now" className="font-semibold text-lead">
      {isTested && !search.is_decided ? `In place now: ${which(search)}` : now(search)}
    </h2>
    {search.round > 1 && search.put_back && !isTested && (
      <p className="mt-1">
        <span className="text-faint">Put the last one back: </span>
        <Prose text={search.put_back} />
      </p>
    )}
    {search.count <= MOST_DRAWN && <Suspects search={search} />}
    <p className="mt-2 text-dense text-faint">{howFar(search)}</p>
  </section>
);

function now({
  tried_first: first,
  tried_last: last,
  over,
  found,
  is_decided,
  by_halves,
  round,
  put_back,
}: Search): string {
  if (is_decided)
    return found == null
      ? `None of the ${over}: put all back as they were`
      : `Number ${found}: put all back as they were`;
  const again = round > 1 && !put_back ? "Put back what the last round changed. " : "";
  return `${again}Now ${by_halves && first !== last ? "all together, " : ""}${over}: ${which({ tried_first: first, tried_last: last })}`;
}

const which = ({ tried_first: first, tried_last: last }: Pick<Search, "tried_first" | "tried_last">): string =>
  first === last ? `number ${first}` : `${first} to ${last}`;

function howFar({ count, first, last, is_decided, rounds_left, minutes_left, over, by_halves }: Search): string {
  const cleared = count - (last - first + 1);
  const way = by_halves ? "by halves" : "one by one";
  if (is_decided) return `${count} ${over}, ${way}`;
  return `${count} ${over}, ${way} · ${cleared} cleared · at most ${plural(rounds_left, "round")} left, ${minutes(minutes_left)}`;
}

const Suspects = ({ search }: { search: Search }) => (
  <ol className="mt-2 flex flex-wrap gap-1" aria-label={`The ${search.over}`}>
    {Array.from({ length: search.count }, (_, n) => n + 1).map((n) => {
      const state = stateOf(n, search);
      return (
        <li
          key={n}
          className={`grid h-7 min-w-7 place-items-center border px-1 text-dense tabular-nums ${SHAPES[state]}`}
        >
          {n}
          <span className="sr-only"> {state}</span>
        </li>
      );
    })}
  </ol>
);

type State = "cleared" | "suspect" | "tried now" | "bad";

const SHAPES: Record<State, string> = {
  cleared: "border-rule text-faint line-through",
  suspect: "border-rail",
  "tried now": "border-2 border-ink font-bold",
  bad: "border-clay bg-clay font-bold text-paper",
};

function stateOf(n: number, { tried_first, tried_last, found, first, last, is_decided }: Search): State {
  if (n === found) return "bad";
  if (is_decided || n < first || n > last) return "cleared";
  return n >= (tried_first ?? 0) && n <= (tried_last ?? 0) ? "tried now" : "suspect";
}
