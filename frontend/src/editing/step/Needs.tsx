import { textOf } from "../../draft/items";
import { ChoiceField } from "../fields/Field";
import { ItemList } from "../fields/ItemList";
import type { ListPlace } from "../fields/operations";
import { ProseField } from "../fields/Texts";
import { NEEDS } from "../fields/words";

/** What must be to hand, and from where it is fetched. */
export const NeedList = ({ at }: { at: ListPlace }) => (
  <ItemList at={at} noun="thing to have at hand" blank={() => ({ kind: "tool" })} nameOf={(one) => textOf(one, "what")}>
    {({ key }) => (
      <span className="flex flex-wrap items-end gap-x-2">
        <span className="min-w-32 flex-1">
          <ProseField item={key} path={["what"]} label="what must be at hand" />
        </span>
        <ChoiceField item={key} path={["kind"]} label="what sort of thing it is" options={NEEDS} />
        <span className="w-28">
          <ProseField item={key} path={["from"]} label="fetched from" />
        </span>
      </span>
    )}
  </ItemList>
);
