import type { ClimbView } from "../../api/types";
import { percent } from "../../ui/format";
import { byLayer } from "./layers";

/** The causes that are still likely, layer by layer, and the layers that are ruled out. */
export const StillLikely = ({ causes }: { causes: ClimbView["likely"] }) => {
  const { likely, ruledOut } = byLayer(causes);
  return (
    <>
      {likely.map(({ layer, causes }) => (
        <div key={layer} className="mb-1.5">
          <h3 className="text-faint text-tiny">{layer}</h3>
          <ul className="space-y-1">
            {causes.map((cause) => (
              <li
                key={cause.cause}
                className="grid grid-cols-[minmax(0,1fr)_3rem_2.75rem] items-baseline gap-2 text-dense"
              >
                <span>{cause.title}</span>
                <span aria-hidden="true" className="h-1.5">
                  <span className="block h-full bg-plum" style={{ width: `${cause.share * 100}%` }} />
                </span>
                <span className="text-right">{percent(cause.share)}</span>
              </li>
            ))}
          </ul>
        </div>
      ))}
      {ruledOut.length > 0 && <p className="text-dense text-faint">{ruledOut.join(", ")}: ruled out</p>}
    </>
  );
};
