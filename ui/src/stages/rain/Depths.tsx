import { useState } from "react";
import { useProject } from "../../document/store";
import type { BlockAt } from "../../document/stormBlocks";
import type { Rainfall } from "../../document/types";
import { useWidth } from "../../primitives/useWidth";
import { ArealFields } from "./ArealFields";
import { Curves } from "./Curves";
import { DepthTable } from "./DepthTable";
import { ImportTable } from "./ImportTable";
import { FormulaForm, OtherRain, RatioForm } from "./RainfallForms";
import { StormRain } from "./StormRain";

/** The rainfall of a block of storms as curves and as it is given, beside the chosen storm. */
export function Depths({ at }: { at: BlockAt }) {
  const { edit } = useProject();
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const { rainfall, rainfallPath: path } = at;
  const [dropping, setDropping] = useState(false);
  const put = (next: Rainfall) => edit([{ op: "replace", path, value: next }]);
  const own = (value: unknown) => void edit([{ op: "replace", path: `${at.path}/rainfall`, value }]);
  return (
    <>
      {at.name && (
        <p className="text-ink2">
          {at.inherits ? (
            <>
              “{at.name}” takes the project’s rainfall.{" "}
              {rainfall && (
                <button type="button" className="textlink" onClick={() => own(rainfall)} data-testid="own-rainfall">
                  give it rainfall of its own
                </button>
              )}
            </>
          ) : (
            <>
              Rainfall of “{at.name}” alone.{" "}
              {dropping ? (
                <>
                  <button
                    type="button"
                    className="textlink text-madder"
                    onClick={() => {
                      setDropping(false);
                      own(null);
                    }}
                    data-testid="drop-rainfall"
                  >
                    drop it and take the project’s
                  </button>{" "}
                  <button type="button" className="textlink" onClick={() => setDropping(false)}>
                    keep it
                  </button>
                </>
              ) : (
                <button
                  type="button"
                  className="textlink"
                  onClick={() => setDropping(true)}
                  data-testid="project-rainfall"
                >
                  take the project’s
                </button>
              )}
            </>
          )}
        </p>
      )}
      {rainfall && (
        <div className="flex min-h-[190px] flex-1 gap-4">
          <div ref={ref} className="min-w-0 flex-[3]">
            {width > 0 && <Curves width={width} height={height} rainfall={rainfall} block={at.name} />}
          </div>
          <div className="flex min-w-0 flex-[2] flex-col [&>section]:flex-1">
            <StormRain />
          </div>
        </div>
      )}
      {rainfall?.kind === "table" && <DepthTable table={rainfall} path={path} />}
      {rainfall?.kind === "formula" && <FormulaForm formula={rainfall} keep={put} />}
      {rainfall?.kind === "ratio" && <RatioForm ratio={rainfall} keep={put} />}
      <div className="flex flex-wrap items-baseline gap-x-4">
        <ImportTable present={rainfall} path={path} />
        <OtherRain key={path} rainfall={rainfall} use={put} />
        <ArealFields />
      </div>
    </>
  );
}
