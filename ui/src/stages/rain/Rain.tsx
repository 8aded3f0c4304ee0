import { useState } from "react";
import { useProject } from "../../document/store";
import { type BlockAt, blocksOf, freshName } from "../../document/stormBlocks";
import { Findings } from "../../findings/Findings";
import { Boundaries } from "./Boundaries";
import { Depths } from "./Depths";
import { EnsembleFields } from "./EnsembleFields";
import { EveryStorm } from "./EveryStorm";
import { Given } from "./Given";
import { StormRain } from "./StormRain";

const PAGES = { depths: "Depths", storms: "Every storm", given: "Recorded and given", boundaries: "Boundaries" };
type RainPage = keyof typeof PAGES;

/** The region's rain, the storms that are made of it, those given as they fell, and what of it all runs off. */
export function Rain() {
  const { project, answer } = useProject();
  const [page, setPage] = useState<RainPage>("depths");
  const [shown, setShown] = useState(0);
  if (!project) return null;
  const blocks = blocksOf(project.rain);
  const at = blocks[Math.min(shown, blocks.length - 1)] as BlockAt;
  return (
    <div className="flex min-w-0 flex-1" data-testid="rain">
      <div className="flex min-w-0 flex-1 flex-col">
        <Findings about="rain" />
        <div className="flex items-baseline gap-3 px-3 pt-2" role="tablist" aria-label="Rain">
          {Object.entries(PAGES).map(([key, label]) => (
            <button
              key={key}
              type="button"
              role="tab"
              aria-selected={page === key}
              className={`pb-[2px] text-[14px] font-semibold ${page === key ? "border-b-2 border-ink" : "text-ink3"}`}
              onClick={() => setPage(key as RainPage)}
              data-testid={`page-${key}`}
            >
              {label}
              {key === "given" && project.rain.given.length > 0 && ` ${project.rain.given.length}`}
            </button>
          ))}
          <span className="ml-auto text-ink2">
            {project.rain.place ?? "no place named"}; {answer?.storms.length ?? 0} storms
          </span>
        </div>
        <div className="flex min-h-0 flex-1 flex-col overflow-auto p-3 pt-1">
          {page === "depths" && <Depths at={at} key={at.path} />}
          {page === "storms" && (
            <>
              <EveryStorm />
              <div className="flex h-[210px] shrink-0 flex-col border-t border-rule2 pt-1 [&>section]:flex-1">
                <StormRain />
              </div>
            </>
          )}
          {page === "given" && <Given />}
          {page === "boundaries" && <Boundaries />}
        </div>
      </div>
      <EnsembleFields at={at} blocks={<Blocks blocks={blocks} at={at} show={setShown} />} />
    </div>
  );
}

/** Which block of storms is edited; further blocks come and go. */
function Blocks({ blocks, at, show }: { blocks: BlockAt[]; at: BlockAt; show: (i: number) => void }) {
  const { project, edit } = useProject();
  if (!project) return null;
  const { further } = project.rain;
  const add = () =>
    edit([
      {
        op: "add",
        path: "/rain/further/-",
        value: {
          name: freshName(
            "further",
            further.map((f) => f.name),
          ),
          durations: project.rain.ensemble.durations,
          probabilities: [],
          seasons: project.rain.ensemble.seasons,
          patterns: [],
          pattern_source: "",
        },
      },
    ]).then(() => show(blocks.length));
  const i = blocks.indexOf(at) - 1;
  return (
    <>
      <p className="flex flex-wrap items-baseline gap-1" role="group" aria-label="blocks of storms">
        {blocks.map((block, k) => (
          <button
            key={block.path}
            type="button"
            aria-pressed={block === at}
            className={`border px-1 ${block === at ? "border-ink bg-hi" : "border-rule2 text-ink2"}`}
            onClick={() => show(k)}
            data-testid={`block-${k}`}
          >
            {block.name || "main storms"}
          </button>
        ))}
        <button type="button" className="textlink ml-auto text-[11px]" onClick={add} data-testid="add-block">
          further storms
        </button>
      </p>
      {i >= 0 && (
        <p className="flex items-center gap-2 pt-1">
          <input
            className="field !w-full !text-left !font-sans"
            aria-label="Name of these storms"
            key={at.name}
            defaultValue={at.name}
            onBlur={(event) => {
              const name = event.target.value.trim();
              if (name && name !== at.name) void edit([{ op: "replace", path: `${at.path}/name`, value: name }]);
            }}
            data-testid="block-name"
          />
          <button
            type="button"
            className="textlink text-[11px]"
            onClick={() => edit([{ op: "remove", path: at.path }]).then(() => show(0))}
          >
            remove
          </button>
        </p>
      )}
    </>
  );
}
