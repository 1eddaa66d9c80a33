import { readdirSync, readFileSync } from "node:fs";
import { dirname, join, relative, resolve } from "node:path";
import { describe, expect, it } from "vitest";

const ROOT = resolve(import.meta.dirname, "..");

/** For each folder, those whose modules its own import. */
function arrows(): Map<string, Set<string>> {
  const found = new Map<string, Set<string>>();
  for (const file of readdirSync(ROOT, { recursive: true, encoding: "utf8" })) {
    if (!/\.tsx?$/.test(file) || /\.test\.tsx?$|\.d\.ts$/.test(file) || !file.includes("/")) continue;
    const mine = file.split("/")[0] ?? "";
    const text = readFileSync(join(ROOT, file), "utf8");
    for (const [, path = ""] of text.matchAll(/from "(\.[^"]+)"/g)) {
      const theirs = relative(ROOT, resolve(ROOT, dirname(file), path)).split("/")[0] ?? "";
      if (theirs !== mine) found.set(mine, (found.get(mine) ?? new Set()).add(theirs));
    }
  }
  return found;
}

/** A way from a folder back to itself, if there is one. */
function circle(start: string, to: Map<string, Set<string>>): string[] | undefined {
  const ways: string[][] = [[start]];
  const seen = new Set<string>();
  for (const way of ways) {
    for (const next of to.get(way.at(-1) ?? "") ?? []) {
      if (next === start) return [...way, next];
      if (!seen.has(next)) ways.push([...way, next]);
      seen.add(next);
    }
  }
  return undefined;
}

describe("the folders", () => {
  it("import one another in no circle", () => {
    const to = arrows();
    expect(to.size).toBeGreaterThan(10);
    expect([...to.keys()].map((folder) => circle(folder, to)).filter(Boolean)).toEqual([]);
  });

  it("would be seen to, if they did", () => {
    expect(
      circle(
        "a",
        new Map([
          ["a", new Set(["b"])],
          ["b", new Set(["c"])],
          ["c", new Set(["a"])],
        ]),
      ),
    ).toEqual(["a", "b", "c", "a"]);
  });
});
