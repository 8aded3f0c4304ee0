import { useState } from "react";
import { useProject } from "../document/store";

const FILES: [string, string, string, string][] = [
  [
    "report.pdf",
    "Report",
    "pdf",
    "brief and verdicts, plan, long section, schedules, results by return period in flow order",
  ],
  [
    "workbook.xlsx",
    "Workbook",
    "xlsx",
    "verdicts, schedules, results by return period, critical durations of patterns, storms with their continuity error",
  ],
  ["peaks.csv", "Peaks", "csv", "one row for each storm and element, in m, m³/s and s: for statistics elsewhere"],
  [
    "statistics.csv",
    "Statistics",
    "csv",
    "mean, median, quartiles and extremes of the peaks of every element, return period and duration",
  ],
  ["file", "Project", "madidus.json", "all inputs; opens anywhere"],
  ["network.xml", "LandXML", "xml", "structures, pipes, parcels; what LandXML cannot say stands beside it"],
  ["network.geojson", "GeoJSON", "geojson", "nodes, links and catchments with every field, in the project’s grid"],
  ["network.xlsx", "Tables", "xlsx", "a sheet for each kind of element with every field; imported again as it stands"],
  [
    "network.dxf",
    "Drawing",
    "dxf",
    "pipes as 3D lines at their inverts, nodes as blocks with attributes, outlines, names",
  ],
  ["network.kml", "Globe", "kml", "elements in degrees for map viewers, once the coordinate system is named"],
];

/** Files of results: of a kept selection where one is chosen, and incomplete only where that is asked for. */
const RESULTS = new Set(["report.pdf", "workbook.xlsx", "peaks.csv", "statistics.csv"]);

function asking(path: string, selection: string, incomplete: boolean): string {
  if (!RESULTS.has(path)) return "";
  const query = new URLSearchParams();
  if (selection) query.set("selection", selection);
  if (incomplete) query.set("incomplete", "true");
  return query.size ? `?${query}` : "";
}

/** What is handed over, and the fingerprint that ties it to these inputs. */
export function Deliver() {
  const { id, option, project, answer, fingerprint } = useProject();
  const [selection, setSelection] = useState("");
  // one that was forgotten meanwhile selects nothing
  const chosen = project?.selections.some((kept) => kept.name === selection) ? selection : "";
  const { state = "not judged", said = "", missing = "" } = answer?.overall ?? {};
  const [incomplete, setIncomplete] = useState(false);
  const bars = [...fingerprint.slice(0, 40)].map((c, i) => ({ key: i, height: 4 + Number.parseInt(c, 16) * 1.4 }));
  return (
    <>
      <div className="flex-1 overflow-auto p-3" data-testid="deliver">
        <p className="flex items-baseline gap-3">
          <b className="text-[15px] font-semibold">Files</b>
          {project && project.selections.length > 0 && (
            <label className="ml-auto text-ink2">
              results of{" "}
              <select
                className="border-b border-ink3 bg-transparent"
                value={chosen}
                onChange={(event) => setSelection(event.target.value)}
                data-testid="report-selection"
              >
                <option value="">every element</option>
                {project.selections.map((kept) => (
                  <option key={kept.name}>{kept.name}</option>
                ))}
              </select>
            </label>
          )}
        </p>
        {FILES.map(([path, name, extension, holds]) => (
          <p key={path} className="flex items-baseline gap-3 border-b border-rule py-2">
            <b className="w-24 font-semibold">{name}</b>
            <span className="figure w-24 text-ink3">{extension}</span>
            <span className="flex-1 text-ink2">{holds}</span>
            {path === "network.kml" && !project?.grid ? (
              <span className="text-ink3">name the coordinate system first: Network, Backgrounds</span>
            ) : missing && RESULTS.has(path) && !incomplete ? (
              <span className="text-ochre-ink">see below</span>
            ) : (
              <a
                className="bg-ink px-4 py-1 font-semibold text-hi"
                href={`/api/projects/${id}/${path === "file" ? "" : `options/${option}/`}${path}${asking(path, chosen, missing !== "")}`}
                download
                data-testid={`get-${path}`}
              >
                {missing && RESULTS.has(path) ? "Download incomplete" : "Download"}
              </a>
            )}
          </p>
        ))}
        {missing && (
          <label className="flex items-baseline gap-2 pt-2 text-ochre-ink">
            <input
              type="checkbox"
              checked={incomplete}
              onChange={(event) => setIncomplete(event.target.checked)}
              data-testid="incomplete"
            />
            {missing}. Report, workbook and peaks would not be whole: hand them over all the same, marked as incomplete
            on every page and sheet.
          </label>
        )}
      </div>
      <aside className="w-[300px] shrink-0 border-l border-rule2 p-3">
        <b className="text-[14px] font-semibold">Fingerprint of the inputs</b>
        <svg width={270} height={30} className="mt-2" role="img" aria-label="fingerprint drawn as bars">
          {bars.map((bar) => (
            <rect key={bar.key} x={bar.key * 6.7} y={0} width={4} height={bar.height} fill="var(--color-ink)" />
          ))}
        </svg>
        <p className="figure text-[18px]">
          {fingerprint
            .slice(0, 12)
            .toUpperCase()
            .replace(/(.{4})/g, "$1 ")}
        </p>
        <p className="pt-1 text-ink2">Printed on every page of the report.</p>
        <p className={`pt-4 font-semibold ${state === "fails" ? "text-madder" : ""}`} data-testid="will-say">
          The report will say: {said}.
        </p>
      </aside>
    </>
  );
}
