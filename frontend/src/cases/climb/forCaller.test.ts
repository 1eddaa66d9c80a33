import { expect, test } from "vitest";
import type { ClimbView } from "../../api/types";
import { messageToCaller, plain } from "./forCaller";

const current = {
  step: { title: "Clear the hold-open setting", expect: "The arm comes *down*", beware: ["Nobody stands under it"] },
  before: [{ title: "First: Side panel open", do: [{ text: "Open the *side panel*" }] }],
  do: [
    { text: "Set **lane\\_3** to off", copy_text: "lanectl hold --lane 3 off" },
    { text: "Press it", hold: 10, only_where: "the model is GR6" },
    { ways: [{ do: [{ text: "With the key" }] }, { do: [{ text: "With the lever" }] }] },
  ],
  after: [{ title: "Leave: Side panel open", do: [{ text: "Shut it" }] }],
  cost: "This takes about 4 minutes.",
} as unknown as NonNullable<ClimbView["current"]>;

test("a message has what the caller does, what it costs, and what is seen then", () => {
  expect(messageToCaller(current)).toBe(
    [
      "Clear the hold-open setting",
      "This takes about 4 minutes.",
      "1. Open the side panel\n2. Set lane_3 to off lanectl hold --lane 3 off\n3. Only where the model is GR6: Press it (hold for 10 s)\n4. With the key\n   or: With the lever",
      "You should then see: The arm comes down",
      "Take care: Nobody stands under it",
      "Before you try again:\n- Shut it",
    ].join("\n\n"),
  );
});

test("marks go, and what is escaped stays", () => {
  expect(plain("Press *Enter* twice, then `a \\* b`")).toBe("Press Enter twice, then a * b");
});
