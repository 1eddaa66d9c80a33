/** A step as a message to the caller, who does it alone: for this unit, values filled in, without marks. */
import type { ClimbView, FilledInstruction } from "../../api/types";

type Current = NonNullable<ClimbView["current"]>;

export function messageToCaller({ step, before, do: instructions, cost, after }: Current): string {
  const lines = [...before.flatMap((one) => one.do), ...instructions].map(
    (one, number) => `${number + 1}. ${line(one)}`,
  );
  const leaving = after.flatMap((one) => one.do).map((one) => `- ${line(one)}`);
  return [
    step.title,
    cost && plain(cost),
    lines.join("\n"),
    step.expect && `You should then see: ${plain(step.expect)}`,
    step.beware?.length && `Take care: ${step.beware.map(plain).join(" ")}`,
    leaving.length && `Before you try again:\n${leaving.join("\n")}`,
  ]
    .filter(Boolean)
    .join("\n\n");
}

function line({ only_where, text, copy_text, hold, ways }: FilledInstruction): string {
  const parts = [
    only_where && `Only where ${only_where}:`,
    text && plain(text),
    copy_text,
    hold != null && `(hold for ${hold} s)`,
    ways?.map((way) => way.do.map(line).join(" ")).join("\n   or: "),
  ];
  return parts.filter(Boolean).join(" ");
}

/** Markdown as plain text: what is escaped stands for itself, what marks emphasis or code goes. */
export const plain = (text: string): string => text.replace(/\\(.)|[*`]/g, (_, escaped?: string) => escaped ?? "");
