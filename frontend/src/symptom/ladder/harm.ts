/** How much harm a figure stands for, in something that one can picture. */
import { count } from "../../ui/format";

/** What a lost record weighs: severity 3, which cannot be undone. */
const LOST_RECORD = 10;

/** What so much harm a case comes to, in something that one can picture. */
export function harmPictured(points: number): string {
  if (points < 0.005) return "That is next to none.";
  if (points >= LOST_RECORD) return "That is more than one lost record in every case.";
  return `That weighs as much as about one lost record in ${count(Math.round(LOST_RECORD / points))} cases.`;
}
