import { useEffect, useRef, useState } from "react";
import { factCounts } from "../api/facts";
import type { Operation } from "../draft/apply";
import { refOf, textOf, titleOf } from "../draft/items";
import { type Item, ROOT } from "../draft/tree";
import { useEditing } from "../editing/fields/Editing";
import { ChoiceField, ShareField, TextField } from "../editing/fields/Field";
import { ItemList } from "../editing/fields/ItemList";
import { set } from "../editing/fields/operations";
import { factIn, factInWords } from "../editing/fields/values";
import { SHARE } from "../editing/fields/ways";
import { FACT_TYPES } from "../editing/fields/words";
import { count, percent } from "../ui/format";
import { useSending } from "../ui/useSending";
import { fromCounts, listOf, withValue } from "./shares";

/** What is asked about the unit, where it is found, and how the units share in its values. */
export const FactShares = () => {
  const { draft, tree } = useEditing();
  return (
    <>
      <ItemList
        at={{ parent: ROOT, path: ["facts"] }}
        noun="question"
        blank={() => ({ type: "text" })}
        nameOf={titleOf}
      >
        {(fact) => (
          <div className="border-rule border-l-2 pl-2">
            <span className="flex flex-wrap items-end gap-x-3">
              <span className="min-w-40 flex-1">
                <TextField item={fact.key} path={["ask"]} label="question" />
              </span>
              <span className="min-w-32 flex-1">
                <TextField item={fact.key} path={["where"]} label="where it is found" />
              </span>
              <ChoiceField
                item={fact.key}
                path={["type"]}
                label="the answer is"
                options={FACT_TYPES}
                onChoose={(type) => draft.do(retyped(tree, fact, type), "the answer is changed")}
              />
            </span>
            <Shares fact={fact} />
          </div>
        )}
      </ItemList>
      <FromLog />
    </>
  );
};

type Tree = ReturnType<typeof useEditing>["tree"];
type Spread = Record<string, unknown>;

const spreadOf = (fact: Item): Spread => ({ ...((fact.choices ?? {}) as Spread), ...((fact.shares ?? {}) as Spread) });

/** A fact of another type: its values go to where that type has them. */
function retyped(tree: Tree, fact: Item, type: string | null): Operation[] {
  const [from, to] = [listOf(fact), listOf({ ...fact, type })];
  const values = from === to ? [] : Object.entries((fact[from] ?? {}) as Spread);
  return [
    set(tree, fact.key, ["type"], type),
    ...values.flatMap(([value, share]) => [
      set(tree, fact.key, [from, value], null),
      set(tree, fact.key, [to, value], share),
    ]),
  ];
}

/** An answer with its share; called otherwise, it is so in every condition that looks for it. */
const ValueShare = ({ fact, list, name }: { fact: Item; list: string; name: string }) => {
  const { draft } = useEditing();
  const [called, setCalled] = useState<string>();
  const field = useRef<HTMLInputElement>(null);
  const isNaming = called !== undefined;
  const says = factInWords(fact.type, name);
  useEffect(() => {
    if (isNaming) field.current?.select();
  }, [isNaming]);
  const rename = () => {
    const to = called === undefined ? undefined : factIn(fact.type, called);
    setCalled(undefined);
    if (!to || to === name) return;
    draft.ask({ kind: "rename-value", fact: fact.key, was: name, to }, `“${says}” called “${called}”`);
  };
  if (isNaming) {
    return (
      <input
        ref={field}
        type="text"
        className="line w-28"
        maxLength={60}
        autoComplete="off"
        aria-label={`what ${says} is called`}
        value={called}
        onChange={({ target }) => setCalled(target.value)}
        onBlur={rename}
        onKeyDown={(event) => {
          if (event.key === "Enter" && !event.nativeEvent.isComposing) rename();
          if (event.key === "Escape") setCalled(undefined);
        }}
      />
    );
  }
  return (
    <>
      <ShareField item={fact.key} path={[list, name]} label={`share of ${says}`} width="w-24" />
      <button type="button" className="link text-faint text-tiny" onClick={() => setCalled(says)}>
        rename<span className="sr-only"> {says}</span>
      </button>
    </>
  );
};

/** How often a question is answered with yes; the rest is no. */
const YesShare = ({ fact }: { fact: Item }) => {
  const { draft, tree } = useEditing();
  const withNo = (text: string) => {
    const yes = SHARE.write(text, null);
    const no = typeof yes === "number" && yes <= 1 ? Math.round((1 - yes) * 1e6) / 1e6 : null;
    draft.do([set(tree, fact.key, ["shares", "no"], no)], "Changed: share of no");
  };
  return <ShareField item={fact.key} path={["shares", "yes"]} label="share of yes" width="w-24" onTyped={withNo} />;
};

const Shares = ({ fact }: { fact: Item }) => {
  const { draft, tree } = useEditing();
  const [value, setValue] = useState("");
  if (fact.type === "yes-no") return <YesShare fact={fact} />;
  const list = listOf(fact);
  const spread = spreadOf(fact);
  const values = Object.keys(spread);
  const sum = Object.values(spread).reduce<number>((all, one) => all + (typeof one === "number" ? one : 0), 0);
  const add = () => {
    const name = factIn(fact.type, value);
    if (!name || name in spread) return;
    const shares = Object.entries(withValue(spread, name));
    const operations = shares.map(([one, share]) => set(tree, fact.key, [list, one], share));
    if (draft.do(operations, `“${name}” added`)) setValue("");
  };
  return (
    <div className="text-dense">
      {values.length > 0 && (
        <>
          <div aria-hidden="true" className="mt-1 flex h-2 max-w-md border border-rule">
            {values.map((name, n) => (
              <span
                key={name}
                className={n % 2 ? "bg-well" : "bg-rail"}
                style={{ width: `${Number(spread[name]) * 100}%` }}
              />
            ))}
          </div>
          <ul className="flex flex-wrap gap-x-4">
            {values.map((name) => (
              <li key={name} className="flex items-end gap-1">
                <ValueShare fact={fact} list={list} name={name} />
                <button
                  type="button"
                  className="text-faint hover:text-clay"
                  aria-label={`Take out the value ${factInWords(fact.type, name)}`}
                  onClick={() =>
                    draft.do([set(tree, fact.key, [list, name], null)], `“${factInWords(fact.type, name)}” taken out`)
                  }
                >
                  ×
                </button>
              </li>
            ))}
          </ul>
          {Math.abs(sum - 1) > 0.0005 && (
            <p className="text-brass text-tiny">together {percent(sum)}; shares make up 100 %</p>
          )}
        </>
      )}
      <span className="flex items-end gap-2">
        <label className="min-w-0 max-w-full text-faint text-tiny">
          {fact.type === "choice" ? "one more answer" : "a sample value"}
          <input
            type="text"
            className="line block w-28"
            maxLength={60}
            value={value}
            onChange={({ target }) => setValue(target.value)}
            onKeyDown={(event) => {
              if (event.key !== "Enter") return;
              event.preventDefault();
              add();
            }}
            onBlur={add}
          />
        </label>
      </span>
    </div>
  );
};

/** Shares of every fact as the log has them, taken in one press. */
const FromLog = () => {
  const { draft, tree, playbookId } = useEditing();
  const [says, setSays] = useState<string>();
  const taking = useSending({
    mutationFn: () => factCounts(playbookId),
    onSuccess: ({ cases, facts }) => {
      const operations: Operation[] = [];
      const taken: string[] = [];
      for (const fact of tree.shown(ROOT, ["facts"])) {
        const found = facts[refOf(fact)] ?? facts[textOf(fact, "name")];
        const shares = found && fromCounts(found);
        if (!shares || Object.keys(shares).length === 0) continue;
        const list = listOf(fact);
        const gone = Object.keys(spreadOf(fact)).filter((value) => !(value in shares));
        operations.push(
          ...Object.entries(shares).map(([value, share]) => set(tree, fact.key, [list, value], share)),
          ...gone.map((value) => set(tree, fact.key, [list, value], list === "choices" ? 0 : null)),
        );
        taken.push(`${titleOf(fact)} (${count(Object.values(found).reduce((all, one) => all + one, 0))})`);
      }
      draft.do(operations, "Shares taken from the log");
      setSays(
        taken.length > 0
          ? `Taken from ${count(cases)} cases of the log: ${taken.join(", ")}.`
          : "The log knows nothing of these questions yet.",
      );
    },
    onError: (error) => setSays(error.message),
  });
  return (
    <p className="mt-1 text-dense text-faint">
      <button type="button" className="link" disabled={taking.isPending} onClick={() => taking.mutate()}>
        take the shares from the log
      </button>{" "}
      <span role="status">{says}</span>
    </p>
  );
};
