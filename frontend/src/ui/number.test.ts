import { expect, test } from "vitest";
import { couldBeTwo, readNumber, separatorsOf } from "./number";

const [english, german, french, arabic, indian] = ["en-GB", "de-DE", "fr-FR", "ar-EG", "en-IN"].map(separatorsOf);

test.each([
  ["1,000", 1000],
  ["1.500", 1.5],
  ["7,5", 7.5],
  ["7.5", 7.5],
  ["1,234,567", 1234567],
  ["1,234.5", 1234.5],
  ["1.234,5", 1234.5],
  ["0,125", 0.125],
  ["12", 12],
  ["-3.25", -3.25],
  [".5", 0.5],
  ["1 000", 1000],
  ["1'000", 1000],
])("%s is %d where a point is the decimal mark", (text, number) => {
  expect(readNumber(text, english)).toBe(number);
});

test.each([
  ["1.500", 1500],
  ["1,500", 1.5],
  ["7,5", 7.5],
  ["7.5", 7.5],
  ["1.234,5", 1234.5],
])("%s is %d where a comma is the decimal mark", (text, number) => {
  expect(readNumber(text, german)).toBe(number);
});

test("digits, marks and spaces of other places are read", () => {
  expect(readNumber("1\u202f500,5", french)).toBe(1500.5);
  expect(readNumber("١٬٥٠٠٫٥", arabic)).toBe(1500.5);
  expect(readNumber("१२", indian)).toBe(12);
});

test.each(["", "abc", "1,2,3", "1.2.3", "12,34,5.6", "1..5", "1e3", "5 min"])("%s is no number", (text) => {
  expect(readNumber(text, english)).toBeUndefined();
});

test("what another place reads as another number is known", () => {
  expect(["1,500", "1.500", "12.345"].every(couldBeTwo)).toBe(true);
  expect(["7,5", "1,50", "0.125", "1,234,567", "1500"].some(couldBeTwo)).toBe(false);
});

test("whatever a place writes is read there as the same number", () => {
  for (const locale of ["en-GB", "de-DE", "fr-FR", "ar-EG", "en-IN", "ja-JP", "pt-BR", "sv-SE", "de-CH"]) {
    const separators = separatorsOf(locale);
    for (const number of [0, 0.5, 7.5, 12, 999.25, 1000, 1500, 12345.5, 1234567])
      expect([locale, readNumber(new Intl.NumberFormat(locale).format(number), separators)]).toEqual([locale, number]);
  }
});
