import { useProject } from "../document/store";
import { Inspector } from "../views/Inspector";
import { LongSection } from "../views/LongSection";
import { Plan } from "../views/Plan";

/** Plan above, long section below, the lane of checks between, the inspector on the right. */
export function NetworkStage() {
  const { findings, point } = useProject();
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col">
        <Plan />
        <div
          className="flex h-[26px] shrink-0 items-center gap-5 overflow-x-auto whitespace-nowrap border-y border-rule2 bg-lo px-3"
          data-testid="checks"
        >
          <b className={`font-semibold ${findings.length ? "text-ochre-ink" : ""}`}>
            {findings.length
              ? `${findings.length} thing${findings.length > 1 ? "s" : ""} to look at`
              : "nothing to look at"}
          </b>
          {findings.map((f, i) => (
            <button
              key={`${f.element}-${f.field}-${f.why}`}
              type="button"
              title={f.remedy}
              onClick={() => f.element && point({ element: f.element })}
            >
              <span className="mr-1 inline-flex h-4 w-4 rotate-45 items-center justify-center border border-ochre bg-ochre-tint">
                <span className="-rotate-45 text-[10.5px]">{i + 1}</span>
              </span>{" "}
              {f.why}; <span className="text-ink3">{f.remedy}</span>
            </button>
          ))}
        </div>
        <LongSection />
      </div>
      <Inspector />
    </>
  );
}
