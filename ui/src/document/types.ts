/** The project document as the server keeps it: SI units. A point is metres east and north. */
export type Point = [number, number];
export type Section =
  | { shape: "circular"; diameter: number }
  | { shape: "rectangular"; width: number; height: number }
  | { shape: "egg"; height: number }
  | { shape: "arch"; width: number; height: number; rise: number }
  | { shape: "trapezoidal"; base_width: number; left_slope: number; right_slope: number; height: number }
  | { shape: "irregular"; stations: { offset: number; elevation: number }[] }
  | { shape: "widths"; rows: { depth: number; width: number }[] };
export type Inflow =
  | { kind: "constant"; flow: number }
  | { kind: "hydrograph"; rows: { time: number; flow: number }[] }
  | { kind: "pattern"; mean: number; factors: number[]; start: number };
type Placed = { name: string; x: number; y: number; invert: number };
type Flooding = Placed & {
  cover: number;
  inflows: Inflow[];
  flooding: "stored" | "lost";
  ponded_area: number;
  ponded_slope: number;
};
export type HeadLoss = { kind: "fixed"; coefficient: number } | { kind: "angle" };
type Shafted = Flooding & { plan_area: number; head_loss: HeadLoss | null };
export type Manhole = Shafted & { kind: "manhole"; diameter: number | null; benched: boolean | null; sealed: boolean };
export type Junction = Shafted & { kind: "junction" };
export type Inlet = Shafted & { kind: "inlet"; capture: number; bypass: string | null };
export type Shaft = Manhole | Junction | Inlet;
export type Infiltration = { rate: number; safety_factor: number; through: "base" | "sides" | "both" };
type Holding = Flooding & { initial_depth: number; infiltration: Infiltration | null };
export type Storage = Holding & {
  kind: "storage";
  form: "pond" | "tank";
  table: { depth: number; area: number }[];
};
export type Basin = Holding & { kind: "basin"; base: Point[]; side_slope: number };
export type Stone = Holding & {
  kind: "stone";
  length: number;
  width: number;
  stone_depth: number;
  base_slope: number;
  porosity: number;
  /** Share of voids of what lies between the stone and the surface. */
  cover_voids: number;
};
export type Store = Storage | Basin | Stone;
export type TailWater =
  | { kind: "free" }
  | { kind: "normal" }
  | { kind: "fixed"; level: number }
  | { kind: "series"; rows: { time: number; level: number }[] };
export type Outfall = Placed & { kind: "outfall"; ground: number | null; tail_water: TailWater; flap: boolean };
export type NetNode = Shaft | Store | Outfall;
type Ends = { name: string; upstream: string; downstream: string; flap: boolean };
type Run = Ends & {
  length: number;
  bends: Point[];
  upstream_invert: number;
  downstream_invert: number;
  roughness: number;
  entry_loss: number;
  exit_loss: number | null;
  bend_loss: number;
};
export type Pipe = Run & {
  kind: "pipe";
  section: Section;
  material: string | null;
  barrels: number;
  silt: number;
};
export type Channel = Run & {
  kind: "channel";
  section: Section;
  infiltration: Infiltration | null;
  bed: { chainage: number; level: number }[];
};
export type Trench = Run & {
  kind: "trench";
  width: number;
  height: number;
  porosity: number;
  stone_size: number;
  pipe: { shape: "circular"; diameter: number } | null;
  infiltration: Infiltration | null;
};
export type Conduit = Pipe | Channel | Trench;
export type Orifice = Ends & {
  kind: "orifice";
  position: "side" | "bottom";
  invert: number;
  section: Section;
  discharge_coefficient: number;
};
export type Weir = Ends & {
  kind: "weir";
  form: "sharp" | "broad" | "v_notch" | "trapezoidal";
  crest: number;
  length: number;
  coefficient: number;
  side_slope: number;
};
export type Riser = Ends & {
  kind: "riser";
  crest: number;
  diameter: number;
  coefficient: number;
  discharge_coefficient: number;
};
export type FlowCurve = Ends & { kind: "curve"; invert: number; rows: { head: number; flow: number }[] };
export type PumpUnit = { on: number; off: number; curve: { flow: number; head: number }[] };
export type RisingMain = {
  length: number;
  diameter: number;
  law: "hazen_williams" | "darcy_weisbach";
  hazen_williams: number;
  sand_roughness: number;
  minor_loss: number;
  discharge_level: number | null;
};
export type Pump = Ends & { kind: "pump"; units: PumpUnit[]; main: RisingMain | null };
export type Control = Orifice | Weir | Riser | FlowCurve | Pump;
export type NetLink = Conduit | Control;
export type Catchment = {
  name: string;
  area: number;
  impervious: number;
  node: string | null;
  time_of_entry: number | null;
  method: Method | null;
  timing: Timing | null;
  /** A catchment over which its runoff runs, to arrive at that one's node. */
  over: string | null;
  creep: number | null;
  polygon: Point[];
};
export type Network = {
  nodes: Record<string, NetNode>;
  links: Record<string, NetLink>;
  catchments: Record<string, Catchment>;
};
export type OverPatterns = "mean" | "median" | "every";

export type Criterion = {
  kind: "surcharge" | "cover" | "flood_volume" | "outflow" | "freeboard";
  name: string;
  asked: boolean;
  return_period: number;
  allowance: number;
  patterns: OverPatterns;
  clearance?: number;
  limit?: number;
  element?: string;
} & Partial<Permit>;
/** Ways to a permitted discharge; `by` is the one in use, the others keep what was typed. SI units. */
export type Permit = {
  by: "typed" | "hectare" | "formula" | "model";
  hectare: { rate: number; counted: "drained" | "paved" | "site"; site: number; least: number };
  formula: {
    /** m²; none is all that drains to the place. */
    area: number | null;
    yearly_rain: number;
    soil: number;
    growth: { return_period: number; factor: number }[];
  };
  model: { area: number | null; paved: number; entry: number; method: Method };
};
export type Rainfall =
  | { kind: "table"; durations: number[]; return_periods: number[]; depths: number[][]; source: string }
  | { kind: "formula"; rows: { return_period: number; a: number; b: number; c: number }[]; source: string }
  | {
      kind: "ratio";
      depth: number;
      ratio: number;
      b: number;
      return_periods: number[];
      growth: { depth: number; factors: number[] }[];
      source: string;
    };
export type Shape =
  | { kind: "bell"; a: number; b: number }
  | { kind: "block" }
  | { kind: "triangle" | "alternating" | "chicago"; peak: number }
  | { kind: "mass"; type: string }
  | { kind: "curve"; points: { time: number; depth: number }[] };
export type Season = { name: "summer" | "winter" | "all year"; shape: Shape };
/** How rain becomes runoff; losses have a kind and numbers of their own. Depths in mm, rates in mm/h, times in s. */
export type Method =
  | {
      kind: "coefficient";
      summer_paved?: number | null;
      winter_paved?: number | null;
      summer_green?: number | null;
      winter_green?: number | null;
    }
  | { kind: "losses"; paved_loss: number; green: { kind: string } }
  | { kind: "unit_hydrograph"; curve_number: number; abstraction: number; concentration: number; peak_factor: number }
  | { kind: "overland"; form: "reservoir" | "plane"; green: { kind: string } };
/** Storms of one rainfall: durations in min, return periods in years. */
export type StormBlock = {
  durations: number[];
  probabilities: { return_period: number; allowance: number }[];
  seasons: Season[];
  patterns: { duration: number; name: string; increments: number[] }[];
};
/** Rain as it fell: mm in equal intervals of min. */
export type GivenStorm = {
  name: string;
  interval: number;
  depths: number[];
  season: Season["name"];
  return_period: number | null;
  began: string | null;
  source: string;
};
/** What area takes off point depths: typed by duration, or a formula of the area in m². */
export type Areal =
  | { kind: "typed"; rows: { duration: number; factor: number }[] }
  | { kind: "formula"; form: "power" | "exponential"; area: number };
export type Rain = {
  rainfall: Rainfall | null;
  place: string | null;
  areal: Areal | null;
  ensemble: StormBlock & { labels: "years" | "aep" };
  /** Storms besides the main ones; without a rainfall of their own they take the project's. */
  further: (StormBlock & { name: string; rainfall: Rainfall | null })[];
  given: GivenStorm[];
  /** Keys of storms that are not run. */
  excluded: string[];
  /** min, longest interval of a storm; none is what the quickest catchment asks for. */
  interval: number | null;
  runoff: Runoff;
};
export type Runoff = {
  method: Method;
  summer_paved: number;
  winter_paved: number;
  summer_green: number;
  winter_green: number;
  creep: number;
  time_of_entry: number;
  least_time: number;
};
type Stretch = Record<string, unknown>;
/** How a time of concentration is computed: a formula with numbers of its own, or the stretches of a flow path. */
export type Timing =
  | { kind: "kirpich" | "lag" | "airport" | "bransby"; length: number; slope: number }
  | { kind: "path"; sheet: Stretch | null; shallow: Stretch | null; channel: Stretch | null };
/** How a storm's run ends; lag in s. */
export type RunControl = { receded: number; lag: number; half_drain: boolean; spacing: number };
/** What a new pipe of a run is given; SI units. */
export type Defaults = {
  gradient: number;
  diameter: number;
  material: string | null;
  roughness: number;
  ground_over: number;
};
/** Lists of parts; SI units. */
export type Parts = {
  pipes: { name: string; roughness: number; diameters: number[] }[];
  manholes: { largest_pipe: number; deepest: number; diameter: number }[];
};
/** Bounds of what is usual on a site; SI units. */
export type Usual = {
  cover_depth: number;
  slowest: number;
  fastest: number;
  drop: number;
  smoothest: number;
  roughest: number;
  farthest: number;
};
export type Accepted = { check: string; element: string | null; reason: string };
export type Backdrop = {
  kind: "water" | "building" | "boundary" | "paving" | "path";
  name: string;
  points: Point[];
};
type Layered = { name: string; shown: boolean; opacity: number };
/** What lies under the network. Files are named by their SHA-256. */
export type Layer =
  | (Layered & { kind: "picture"; file: string; extent: [number, number, number, number] })
  | (Layered & { kind: "lines"; file: string })
  | (Layered & { kind: "map"; service: "xyz" | "wms" | "wmts"; address: string; layer: string; credit: string });
export type TerrainLayer = { name: string; file: string; contours: boolean; interval: number | null; shade: boolean };
/** How foreign files were read last time: tables by their headings, layers and blocks of drawings, structures. */
export type Mappings = {
  tables: { headings: string[]; kind: string; columns: Record<string, { field: string; unit: string }> }[];
  layers: Record<string, string>;
  blocks: Record<string, string>;
  structures: Record<string, string>;
  network_types: Record<string, string>;
  files: Record<string, string>;
};
export type Project = {
  name: string;
  units: "metric" | "us";
  flow_unit: string | null;
  brief: { author: string; client: string; criteria: Criterion[] };
  rain: Rain;
  run: RunControl;
  defaults: Defaults;
  parts: Parts;
  usual: Usual;
  accepted: Accepted[];
  options: Record<string, { name: string; network: Network }>;
  backdrop: Backdrop[];
  /** Code of a projected coordinate system; none is a plain local grid. */
  grid: string | null;
  layers: Layer[];
  terrain: TerrainLayer | null;
  mappings: Mappings;
  sights: Sight[];
  graphs: Graph[];
  selections: { name: string; elements: string[] }[];
};
/** A stage, an element, a storm and a moment that somebody kept; moment in s. */
/** What the Network stage shows. */
export type NetworkView = "plan" | "graphs" | "depth";
export type Drawn = "level" | "depth" | "volume" | "fill" | "flow" | "speed";
/** Quantities of elements over time or one against another, in the storms that `storms` names. */
export type Graph = {
  name: string;
  elements: string[];
  quantities: Drawn[];
  storms: "picked" | "duration" | "row" | "all";
  against: Drawn | null;
};
export type Sight = {
  name: string;
  stage: string;
  view: NetworkView;
  element: string | null;
  storm: string | null;
  moment: number;
  rule: number;
};

/** The option that is shown and run: the first by name. */
export function shownOption(project: Project): { id: string; name: string; network: Network } {
  const [id, option] = Object.entries(project.options).sort((a, b) => (a[1].name < b[1].name ? -1 : 1))[0] as [
    string,
    { name: string; network: Network },
  ];
  return { id, ...option };
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
/** The level at which a control begins to act. */
export const levelOf = (control: Control) =>
  control.kind === "orifice" || control.kind === "curve"
    ? control.invert
    : control.kind === "pump"
      ? Math.min(...control.units.map((unit) => unit.off))
      : control.crest;
export const topOf = (node: NetNode) => (node.kind === "outfall" ? (node.ground ?? node.invert + 1) : node.cover);
