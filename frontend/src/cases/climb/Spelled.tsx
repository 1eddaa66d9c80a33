import { createContext, useContext } from "react";
import { Key } from "../../ui/Key";
import { spelled } from "./spelling";

/** Whether commands stand spelled below themselves, for a caller who types them. */
export const SpelledContext = createContext<{ isSpelled: boolean; toggle: () => void } | undefined>(undefined);

/** The button that spells commands out, and one command spelled. */
export const Spelled = ({ text }: { text: string }) => {
  const spelling = useContext(SpelledContext);
  if (!spelling) return null;
  return (
    <>
      <button
        type="button"
        aria-expanded={spelling.isSpelled}
        className="text-dense text-slate underline-offset-2 hover:underline"
        onClick={spelling.toggle}
      >
        {spelling.isSpelled ? "hide the spelling" : "spell it aloud"} <Key>a</Key>
      </button>
      {spelling.isSpelled && (
        <ol aria-label="Spelled aloud" className="flex basis-full flex-wrap gap-x-3 gap-y-1 pb-1">
          {spelled(text).map(({ sign, word }, place) => (
            <li key={place} className={`flex flex-col items-center text-dense ${sign === " " ? "text-faint" : ""}`}>
              <span aria-hidden="true" className="font-mono">
                {sign === " " ? "·" : sign}
              </span>
              {word}
            </li>
          ))}
        </ol>
      )}
    </>
  );
};
