import { type ReactNode, useId } from "react";

/** One part of what is known of a symptom, under its heading. */
export const Part = ({ title, says, children }: { title: string; says?: ReactNode; children: ReactNode }) => {
  const id = useId();
  return (
    <section aria-labelledby={id} className="mt-4 border-rule border-t pt-3 first:mt-0 first:border-t-0 first:pt-0">
      <h2 className="flex items-baseline gap-3 font-semibold">
        <span id={id}>{title}</span>
        {says && <span className="font-normal text-dense text-faint">{says}</span>}
      </h2>
      {children}
    </section>
  );
};
