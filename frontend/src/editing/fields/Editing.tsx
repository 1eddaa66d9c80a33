/** The draft that the fields of a page edit, handed to them from above. */
import { createContext, type ReactNode, useContext } from "react";
import type { Draft } from "../../draft/draft";
import type { Flaw } from "../../draft/state";
import type { Tree } from "../../draft/tree";

export interface Editing {
  draft: Draft;
  tree: Tree;
  flaws: readonly Flaw[];
  playbookId: string;
}

const Context = createContext<Editing | undefined>(undefined);

interface EditingProps extends Editing {
  children: ReactNode;
}

export const EditingPlace = ({ children, ...editing }: EditingProps) => (
  <Context.Provider value={editing}>{children}</Context.Provider>
);

export function useEditing(): Editing {
  const found = useContext(Context);
  if (!found) throw new Error("a field stands outside of every draft");
  return found;
}
