/** Where a step comes from, said in small beside it. */
import type { Step } from "../../api/types";
import { onDay } from "../../ui/format";

const FROM: Record<NonNullable<Step["source"]>["kind"], string> = {
  maker: "From the maker",
  "own-desk": "From this desk",
  colleague: "From a colleague",
  article: "From an article",
  seller: "From the seller",
};

export function sourceInWords({ kind, ref, read }: NonNullable<Step["source"]>): string {
  return [FROM[kind], ref, read && `read on ${onDay(`${read}T12:00`)}`].filter(Boolean).join(", ");
}
