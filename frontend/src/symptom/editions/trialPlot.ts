/** Where the difference of two editions and its interval stand about nothing, and the difference that is looked for. */
import { scaleLinear } from "d3-scale";

interface Difference {
  difference: number;
  low: number;
  high: number;
}

/** Nothing stands in the middle; the interval may go on beyond the edge. */
export function trialPlot({ difference, low, high }: Difference, wanted: number, width: number) {
  const reach = Math.max(2.5 * wanted, 1.2 * Math.abs(difference), 1e-9);
  const at = scaleLinear([-reach, reach], [0, width]).clamp(true);
  return {
    nought: at(0),
    dot: at(difference),
    low: at(low),
    high: at(high),
    least: at(-wanted),
    most: at(wanted),
  };
}
