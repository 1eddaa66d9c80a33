/** What a number that was read off says of a step. */
import type { Step } from "../../api/types";

type Finding = NonNullable<Step["findings"]>[number];

/** The finding that a reading decides: that of the first band that it falls into. */
export function findingOf({ reading, findings }: Step, value: number): Finding | undefined {
  const band = reading?.bands.find(({ below }) => below == null || value < below);
  return findings?.find(({ id }) => id === band?.finding);
}
