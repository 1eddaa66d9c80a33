import { readdirSync, readFileSync } from "node:fs";
import { dirname, join, relative, resolve } from "node:path";
import { describe, expect, it } from "vitest";

const ROOT = resolve(import.meta.dirname, "..");
const MOST_ROOMS = 9;

type Arrows = Map<string, Set<string>>;

/** For each folder, down to so many levels, those whose modules its own import. */
function arrows(levels: number): Arrows {
  const found: Arrows = new Map();
  for (const file of readdirSync(ROOT, { recursive: true, encoding: "utf8" })) {
    if (!/\.tsx?$/.test(file) || /\.test\.tsx?$|\.d\.ts$/.test(file) || !file.includes("/")) continue;
    const mine = folderOf(file, levels);
    const theirs = found.get(mine) ?? new Set();
    found.set(mine, theirs);
    const text = readFileSync(join(ROOT, file), "utf8");
    for (const [, path = ""] of text.matchAll(/(?:from |import\()"(\.[^"]+)"/g)) {
      const folder = folderOf(relative(ROOT, resolve(ROOT, dirname(file), path)), levels);
      if (folder !== mine) theirs.add(folder);
    }
  }
  return found;
}

const folderOf = (file: string, levels: number) => dirname(file).split("/").slice(0, levels).join("/");

/** A way from a folder back to itself, if there is one. */
function circle(start: string, to: Arrows): string[] | undefined {
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

const circles = (to: Arrows) => [...to.keys()].map((folder) => circle(folder, to)).filter(Boolean);

describe("the folders", () => {
  it("are at most nine rooms at the top", () => {
    const rooms = readdirSync(ROOT, { withFileTypes: true }).filter((one) => one.isDirectory());
    expect(rooms.length).toBeLessThanOrEqual(MOST_ROOMS);
  });

  it("import one another in no circle, neither the rooms nor the folders within them", () => {
    const rooms = arrows(1);
    const folders = arrows(2);
    expect(rooms.size).toBeGreaterThan(5);
    expect(folders.size).toBeGreaterThan(rooms.size);
    expect(circles(rooms)).toEqual([]);
    expect(circles(folders)).toEqual([]);
  });

  it("would be seen to, if they did", () => {
    const to = new Map([
      ["a", new Set(["b"])],
      ["b", new Set(["c"])],
      ["c", new Set(["a"])],
    ]);
    expect(circle("a", to)).toEqual(["a", "b", "c", "a"]);
  });
});
