import type { BlockAt } from "../../document/blocks";
import { useProject } from "../../document/store";
import { useWidth } from "../../instrument/useWidth";
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
              <button type="button" className="textlink" onClick={() => own(null)}>
                take the project’s
              </button>
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
      {rainfall?.kind === "formula" && <FormulaForm formula={rainfall} path={path} />}
      {rainfall?.kind === "ratio" && <RatioForm ratio={rainfall} path={path} />}
      <div className="flex flex-wrap items-baseline gap-x-4">
        <ImportTable present={rainfall} path={path} />
        <OtherRain rainfall={rainfall} path={path} />
        <ArealFields />
      </div>
    </>
  );
}
