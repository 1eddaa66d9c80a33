/** Causes as they are ruled out: layer by layer. */
import type { ClimbView } from "../../api/types";

type Cause = ClimbView["likely"][number];

/** Below one in a hundred nobody looks there any more. */
const RULED_OUT = 0.01;
const MOST = 6;

/** The likeliest causes by layer, the likeliest layer first; a layer of which none is likely is ruled out. */
export function byLayer(causes: readonly Cause[]): {
  likely: { layer: string; causes: Cause[] }[];
  ruledOut: string[];
} {
  const names = [...new Set(causes.map(({ layer }) => layer))];
  const layers = names.map((layer) => ({ layer, causes: causes.filter((cause) => cause.layer === layer) }));
  const shown = new Set(causes.filter(({ share }) => share >= RULED_OUT).slice(0, MOST));
  const share = (all: readonly Cause[]) => all.reduce((sum, cause) => sum + cause.share, 0);
  return {
    likely: layers
      .toSorted((one, other) => share(other.causes) - share(one.causes))
      .map(({ layer, causes }) => ({ layer, causes: causes.filter((cause) => shown.has(cause)) }))
      .filter(({ causes }) => causes.length > 0),
    ruledOut: layers.filter((one) => one.causes.every((cause) => cause.share < RULED_OUT)).map(({ layer }) => layer),
  };
}
