import { expect, it } from "vitest";
import { byLayer } from "./layers";

const cause = (title: string, layer: string, share: number) => ({ cause: title, title, layer, share });

it("groups what is still likely by layer, the likeliest first, and says once what is ruled out", () => {
  const { likely, ruledOut } = byLayer([
    cause("Sensor", "hardware", 0.4),
    cause("Setting", "settings", 0.35),
    cause("Flap", "settings", 0.24),
    cause("Lead", "wiring", 0.004),
    cause("Plug", "wiring", 0.001),
    cause("Cover", "hardware", 0.005),
  ]);
  expect(likely.map(({ layer, causes }) => [layer, causes.map(({ title }) => title)])).toEqual([
    ["settings", ["Setting", "Flap"]],
    ["hardware", ["Sensor"]],
  ]);
  expect(ruledOut).toEqual(["wiring"]);
});
