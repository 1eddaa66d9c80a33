import { useState } from "react";
import { say } from "../../ui/say";
import { useNow } from "../../ui/useNow";

/** A length of time that something is held for, counted down on the screen. */
export const Hold = ({ seconds }: { seconds: number }) => {
  const [since, setSince] = useState<number>();
  const now = useNow();
  const left = since == null ? seconds : Math.max(0, Math.ceil(seconds - (now - since) / 1000));
  const start = () => {
    setSince(Date.now());
    say(`Counting ${seconds} seconds`);
  };
  return (
    <button type="button" className="button ml-2 py-0.5 text-dense" onClick={start}>
      {since == null ? `count ${seconds} seconds` : left > 0 ? `${left} seconds left` : "the time is over · again"}
    </button>
  );
};
