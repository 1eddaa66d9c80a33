import { expect, test } from "vitest";
import { spelled } from "./spelling";

const said = (text: string) => spelled(text).map(({ word }) => word);

test("a command is spelled letter by letter, capitals and signs by name", () => {
  expect(said("gr -L 3_x")).toEqual([
    "golf",
    "romeo",
    "space",
    "dash",
    "capital Lima",
    "space",
    "three",
    "underscore",
    "x-ray",
  ]);
});

test("every sign of a keyboard has a name", () => {
  const signs = Array.from({ length: 95 }, (_, number) => String.fromCharCode(32 + number));
  expect(spelled(signs.join("")).filter(({ sign, word }) => sign === word)).toEqual([]);
});

test("what has no name stands for itself", () => {
  expect(said("é€")).toEqual(["é", "€"]);
});
