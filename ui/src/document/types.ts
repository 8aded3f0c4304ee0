/**
 * The project document as the server keeps it: SI units, a point is metres east and north. All of it is generated from
 * the server's own model; here its parts get the names that the interface calls them by.
 */
import type { components, paths } from "../api/schema";

type Schemas = components["schemas"];
type Kind<T, K> = Extract<T, { kind: K }>;

export type Project = Schemas["Project"];
export type Option = Schemas["Option"];
export type Network = Schemas["Network"];
/** An edit of a network, as the server does it. */
export type Edit = NonNullable<
  paths["/api/projects/{project_id}/options/{option}/edits"]["post"]["requestBody"]
>["content"]["application/json"][number];
export type Point = [number, number];

export type NetNode = Network["nodes"][string];
export type Manhole = Kind<NetNode, "manhole">;
export type Junction = Kind<NetNode, "junction">;
export type Inlet = Kind<NetNode, "inlet">;
export type Shaft = Manhole | Junction | Inlet;
export type Storage = Kind<NetNode, "storage">;
export type Basin = Kind<NetNode, "basin">;
export type Stone = Kind<NetNode, "stone">;
/** The corners that are drawn of a pond, of its base or of its rim, and the field that keeps them. */
export const outlineOf = (basin: Basin): [number, number][] =>
  (basin.base.length ? basin.base : basin.rim) as [number, number][];
export const drawnAs = (basin: Basin): "base" | "rim" => (basin.base.length ? "base" : "rim");
export type Store = Storage | Basin | Stone;
export type Outfall = Kind<NetNode, "outfall">;
export type Inflow = Shaft["inflows"][number];
export type HeadLoss = NonNullable<Shaft["head_loss"]>;
export type Infiltration = Schemas["Infiltration"];
export type TailWater = Outfall["tail_water"];

export type NetLink = Network["links"][string];
export type Pipe = Kind<NetLink, "pipe">;
export type Channel = Kind<NetLink, "channel">;
export type Trench = Kind<NetLink, "trench">;
export type Conduit = Pipe | Channel | Trench;
export type Orifice = Kind<NetLink, "orifice">;
export type Weir = Kind<NetLink, "weir">;
export type Riser = Kind<NetLink, "riser">;
export type FlowCurve = Kind<NetLink, "curve">;
export type SluiceGate = Kind<NetLink, "gate">;
export type Pump = Kind<NetLink, "pump">;
export type PumpUnit = Schemas["PumpUnit"];
export type RisingMain = Schemas["RisingMain"];
export type Control = Exclude<NetLink, Conduit>;
export type Section = (Pipe | Channel | Orifice)["section"];

export type ReportLayout = Project["layouts"][number];
export type Part = ReportLayout["parts"][number];
export type PartKind = Part["kind"];
export type PlanDrawing = Schemas["PlanDrawing"];
export type SectionDrawing = Schemas["SectionDrawing"];
export type Composed = Project["sheets"][number];
export type SheetItem = Composed["items"][number];
export type Paper = ReportLayout["paper"];

export type Catchment = Network["catchments"][string];
export type Rule = Project["brief"]["rules"][number];
export type Limit = Extract<Rule, { limits: unknown }>["limits"][number];
export type Scope = Rule["scope"];
export type OverPatterns = Kind<Rule, "surcharge">["patterns"];
/** Ways to a permitted discharge; `by` is the one in use, the others keep what was typed. */
export type OutflowRule = Kind<Rule, "outflow">;
export type Permit = Pick<OutflowRule, "by" | "hectare" | "formula" | "model">;

export type Rain = Project["rain"];
export type Rainfall = NonNullable<Rain["rainfall"]>;
export type Runoff = Rain["runoff"];
export type Method = Runoff["method"];
export type Timing = NonNullable<Catchment["timing"]>;
export type Season = Rain["ensemble"]["seasons"][number];
export type Shape = Season["shape"];
/** Storms of one rainfall: durations in min, return periods in years. */
export type StormBlock = Pick<
  Rain["ensemble"],
  "durations" | "probabilities" | "seasons" | "patterns" | "pattern_source"
>;
export type GivenStorm = Rain["given"][number];
export type Areal = NonNullable<Rain["areal"]>;

export type RunControl = Project["run"];
export type Defaults = Project["defaults"];
export type Catalogue = Project["catalogue"];
export type CheckLimits = Project["check_limits"];
export type Accepted = Project["accepted"][number];
export type Backdrop = Project["backdrop"][number];
export type Layer = Project["layers"][number];
export type TerrainLayer = NonNullable<Project["terrain"]>;
export type Mappings = Project["mappings"];
export type SavedView = Project["saved_views"][number];
export type SizingRules = Project["sizing"];
export type PlanLook = SavedView["plan"];
export type Extent = NonNullable<SavedView["extent"]>;
export type Eye = NonNullable<SavedView["eye"]>;
export type Graph = Project["graphs"][number];

/** What the Network stage shows. */
export type NetworkView = SavedView["view"];
export type Drawn = Graph["quantities"][number];

/** Options in their order, those that are not retired first. */
export function optionsOf(project: Project): { id: string; option: Option }[] {
  const all = project.order.flatMap((id) => {
    const option = project.options[id];
    return option ? [{ id, option }] : [];
  });
  return [...all.filter((one) => !one.option.retired), ...all.filter((one) => one.option.retired)];
}

export const isConduit = (link: NetLink | undefined): link is Conduit =>
  link?.kind === "pipe" || link?.kind === "channel" || link?.kind === "trench";
export const isStore = (node: NetNode | undefined): node is Store =>
  node?.kind === "storage" || node?.kind === "basin" || node?.kind === "stone";

export function heightOf(section: Section): number {
  if (section.shape === "circular") return section.diameter;
  if (section.shape === "widths") return section.rows[section.rows.length - 1]?.depth ?? 0;
  if (section.shape !== "irregular") return section.height;
  const levels = section.stations.map((s) => s.elevation);
  return Math.min(levels[0] ?? 0, levels[levels.length - 1] ?? 0) - Math.min(...levels);
}
export const depthOf = (conduit: Conduit) => (conduit.kind === "trench" ? conduit.height : heightOf(conduit.section));
/** Level at which a node spills: its cover or bank, or lower ground on a pond's rim where no bank is built. */
export const spillOf = (node: Exclude<NetNode, Outfall>) =>
  node.kind === "basin" && node.rim_ground != null && !node.bank ? Math.min(node.rim_ground, node.cover) : node.cover;
export const topOf = (node: NetNode) => (node.kind === "outfall" ? (node.ground ?? node.invert + 1) : node.cover);
