/** Where what each month or sort of unit would have been spared stands on one axis about nothing. */

import { scaleLinear } from "d3-scale";
import type { Span } from "../../ui/format";

interface SparedMark {
  low: number;
  dot: number;
  high: number;
}

export interface SparedPlot {
  /** Where nothing is spared. */
  nought: number;
  marks: SparedMark[];
}

/** An axis from the least to the most of all means, nothing always on it; whiskers that go beyond end at its end. */
export function sparedPlot(spans: readonly Span[], width: number): SparedPlot {
  const reach = Math.max(...spans.map(({ mean }) => Math.abs(mean)), 1e-9);
  const [least, most] = [
    Math.min(0, ...spans.map(({ mean, low }) => Math.max(low, mean - reach))),
    Math.max(0, ...spans.map(({ mean, high }) => Math.min(high, mean + reach))),
  ];
  const at = scaleLinear([least, most], [0, width]).clamp(true);
  return {
    nought: at(0),
    marks: spans.map(({ mean, low, high }) => ({ low: at(low), dot: at(mean), high: at(high) })),
  };
}
