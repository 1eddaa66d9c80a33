import { expect, test } from "vitest";
import { storageOf } from "./stored";

test("where the browser blocks its storage, what is kept lasts as long as the page", () => {
  const blocked = storageOf(() => {
    throw new DOMException("The operation is insecure.", "SecurityError");
  });
  blocked.setItem("a", "1");
  expect([blocked.getItem("a"), blocked.getItem("b"), blocked.length, blocked.key(0)]).toEqual(["1", null, 1, "a"]);
  blocked.removeItem("a");
  expect(blocked.length).toBe(0);
});

test("a storage that throws only when it is used is blocked too", () => {
  const odd = storageOf(() => ({
    getItem: () => {
      throw new Error("no");
    },
    setItem: () => undefined,
    removeItem: () => undefined,
    key: () => null,
    length: 0,
  }));
  odd.setItem("a", "1");
  expect(odd.getItem("a")).toBe("1");
});
