import { couldBeTwo, readNumber, typedNumber } from "./number";

/** How a number was read that another place would read as another one. */
export const ReadAs = ({ text }: { text: string }) => {
  const number = couldBeTwo(text) ? readNumber(text) : undefined;
  return number === undefined ? null : <span className="text-dense text-faint">read as {typedNumber(number)}</span>;
};
