import type { Comparison } from "../../api/types";
import { percent, points, tenths } from "../../ui/format";

const GROUPS = [
  { group: "order", title: "Order" },
  { group: "conditions", title: "Conditions" },
  { group: "judgement", title: "Judgement" },
  { group: "text", title: "Text" },
] as const;

/** What changed, sentence by sentence, and what that does to the figures. */
export const Sentences = ({ comparison }: { comparison: Comparison }) => (
  <div className="text-dense">
    {comparison.sentences.length === 0 && <p className="text-faint">The two are the same.</p>}
    {GROUPS.map(({ group, title }) => {
      const mine = comparison.sentences.filter((one) => one.group === group);
      return (
        mine.length > 0 && (
          <section key={group} className="mb-2">
            <h3 className="font-semibold">{title}</h3>
            <ul>
              {mine.map(({ says }) => (
                <li key={says} className="py-0.5">
                  {says}
                </li>
              ))}
            </ul>
          </section>
        )
      );
    })}
  </div>
);

/** The figures of two documents beside each other. */
export const Figures = ({ comparison }: { comparison: Comparison }) => {
  const { before, after } = comparison;
  const rows = [
    { name: "effort minutes a case", was: tenths(before.effort), now: tenths(after.effort) },
    { name: "harm points a case", was: points(before.harm), now: points(after.harm) },
    {
      name: "resolved here",
      was: percent(before.resolved + before.worked_around),
      now: percent(after.resolved + after.worked_around),
    },
    { name: "handed off", was: percent(before.handed_off), now: percent(after.handed_off) },
  ];
  return (
    <table className="text-dense">
      <thead className="text-left text-faint">
        <tr>
          <th className="pr-6 font-normal">forecast</th>
          <th className="pr-4 text-right font-normal">before</th>
          <th className="text-right font-normal">after</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ name, was, now }) => (
          <tr key={name}>
            <th scope="row" className="pr-6 text-left font-normal">
              {name}
            </th>
            <td className="pr-4 text-right text-faint">{was}</td>
            <td className={`text-right ${was === now ? "text-faint" : "font-semibold"}`}>{now}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
};
