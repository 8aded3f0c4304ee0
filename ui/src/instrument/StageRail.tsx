import type { ChangeEvent } from "react";
import { NavLink, useParams } from "react-router";
import { WHOLE_INCHES } from "../document/catalogue";
import { type Change, useProject } from "../document/store";
import type { Project } from "../document/types";
import { FLOW_UNITS } from "../document/units";

/** Stages are places, not steps: every one is reachable always. */
export function StageRail() {
  // of the address: the project may still be on its way
  const { id } = useParams();
  const { project, network, answer, findings } = useProject();
  const openOf = (about: string) => findings.filter((f) => f.accepted === null && f.about === about).length;
  const [found, rainOpen] = [openOf("network"), openOf("rain")];
  const asked = project?.brief.rules.filter((rule) => rule.asked).length ?? 0;
  const { fails = 0, tight = 0, close = 0, too_close: tooClose = 0, not_judged: open = 0 } = answer?.overall ?? {};
  const state = answer?.overall.state ?? "not judged";
  const inCount = answer?.storms.filter((s) => s.state === "in").length ?? 0;
  const options = Object.values(project?.options ?? {}).filter((one) => !one.retired).length;
  const total = answer?.storms.length ?? 0;
  const stages: [string, string, string][] = [
    ["brief", "Brief", `${asked} rules`],
    [
      "network",
      "Network",
      found ? `${found} finding${found > 1 ? "s" : ""}` : `${Object.keys(network?.links ?? {}).length} links`,
    ],
    ["rain", "Rain", rainOpen ? `${rainOpen} finding${rainOpen > 1 ? "s" : ""}` : `${total} storms`],
    ["storms", "Storms", `${inCount} of ${total}`],
    [
      "verdict",
      "Verdict",
      fails
        ? `${fails} fails`
        : state === "meets"
          ? "all meet"
          : state === "too close"
            ? `${tooClose} too close`
            : `${open} not judged`,
    ],
    ["options", "Options", `${options} weighed`],
    ["deliver", "Deliver", answer && !answer.overall.missing ? "ready" : "not all in"],
  ];
  return (
    <nav aria-label="Stages" className="flex w-[72px] shrink-0 flex-col border-r border-rule2 pt-3 text-[12px]">
      <p className="px-2 pb-4 leading-4">
        <b className="font-semibold">Margins</b>
        <br />
        <span className={fails ? "font-semibold text-madder" : "text-ink3"}>
          {fails ? `${fails} fail` : state === "meets" ? "all meet" : "none fails"}
        </span>
        <br />
        <span className="text-ink3">
          {open
            ? `${open} not judged`
            : tooClose
              ? `${tooClose} too close`
              : close
                ? `${close} close`
                : `${tight} tight`}
        </span>
      </p>
      <div className="relative">
        <span className="absolute bottom-6 left-[15px] top-6 w-px bg-rule2" />
        {stages.map(([path, name, note]) => (
          <NavLink
            key={path}
            to={`/p/${id}/${path}`}
            className={({ isActive }) =>
              `relative flex h-14 items-center gap-2 pl-[10px] ${isActive ? "border-y border-rule2 bg-hi" : ""}`
            }
          >
            {({ isActive }) => (
              <>
                <span
                  className={`z-10 flex h-[11px] w-[11px] items-center justify-center rounded-full border-[1.5px] border-ink ${isActive ? "bg-ink" : "bg-paper"}`}
                >
                  {!isActive && <i className="h-[4px] w-[4px] rounded-full bg-ink" />}
                </span>
                <span className="leading-[14px]">
                  <b className="font-semibold">{name}</b>
                  <br />
                  <span
                    className={`text-[11px] ${path === "verdict" && fails ? "text-madder" : (path === "network" && found) || (path === "rain" && rainOpen) ? "text-ochre-ink" : "text-ink3"}`}
                  >
                    {note}
                  </span>
                </span>
              </>
            )}
          </NavLink>
        ))}
      </div>
      <Units />
    </nav>
  );
}

/** The usual sizes in inches for every material, and a 12-inch pipe to begin with. */
const inInches = ({ catalogue }: Project): Change[] => [
  {
    op: "replace",
    path: "/catalogue/pipes",
    value: catalogue.pipes.map((material) => ({ ...material, diameters: WHOLE_INCHES })),
  },
  { op: "replace", path: "/defaults/diameter", value: 12 * 0.0254 },
];

/** In which units everything is read and typed; what is kept, and every result, stays the same. */
function Units() {
  const { project, network, edit } = useProject();
  if (!project) return null;
  const set = (field: string) => (event: ChangeEvent<HTMLSelectElement>) => {
    const value = event.target.value || null;
    // before anything is drawn the catalogue goes with the units; later it is what it is
    const blank = Object.keys(network?.nodes ?? {}).length === 0;
    const sizes = field === "units" && value === "us" && blank ? inInches(project) : [];
    void edit([{ op: "add", path: `/${field}`, value }, ...sizes]);
  };
  const look = "w-full bg-transparent text-[11px] font-semibold text-ink";
  return (
    <div className="mt-auto px-1 pb-2 text-[11px] leading-4 text-ink3">
      <span className="px-1">Units</span>
      <select
        className={look}
        aria-label="system of units"
        value={project.units}
        onChange={set("units")}
        data-testid="units"
      >
        <option value="metric">m, mm</option>
        <option value="us">ft, in</option>
      </select>
      <select
        className={look}
        aria-label="unit of flow"
        value={project.flow_unit ?? ""}
        onChange={set("flow_unit")}
        data-testid="flow-unit"
      >
        <option value="">{project.units === "us" ? "ft³/s" : "L/s"}</option>
        {Object.entries(FLOW_UNITS).map(([key, rule]) => (
          <option key={key} value={key}>
            {rule.unit}
          </option>
        ))}
      </select>
    </div>
  );
}
